import { refusal } from '../../findings/index.js'
import type { Checked, CheckedFormula, ColumnId, Scope, ScopeLink, ScopeValue } from '../../formula/index.js'
import { mapParts } from '../../formula/index.js'
import { foldName, printName, printNumber, type Scalar } from '../../values/index.js'
import type { Model, RowsTable } from '../model/index.js'
import { fitText } from '../model/index.js'
import type { ViewParameter } from '../schemas/index.js'

interface Known {
  readonly value: ScopeValue
  readonly cell: Scalar | null
}

/** Names that the formulas of one view may use besides all others; each is a constant in them. */
export class ViewParameters {
  readonly #known: ReadonlyMap<string, Known>
  readonly #byId: ReadonlyMap<ColumnId, Known>

  /**
   * @param isAsked - whether those without a value are asked for later, and blank until then
   * @throws Refusal for a name that something in scope has, two of one name, values missing, and values of another type
   */
  constructor(model: Model, table: RowsTable, zone: string, given: readonly ViewParameter[], isAsked: boolean) {
    const known = new Map<string, Known>()
    for (const [at, { name, type, value = null }] of given.entries()) {
      const place = { table: table.name, column: name }
      const taken = known.has(foldName(name)) ? 'parameter' : kindInScope(model, table, name)
      if (taken !== null)
        throw refusal('name-taken', { place: `Table ${printName(table.name)}`, kind: taken, name: printName(name) }, place)
      const cell = value === null ? null : fitText(String(value), type, zone)
      if (cell === null && !(isAsked && value === null)) {
        const reason = value === null ? 'it has no value.' : `expected ${type}, received ${JSON.stringify(value)}.`
        throw refusal('bad-operation', { place: `The parameter ${printName(name)}`, reason }, place)
      }
      const constant = (): string | null => (typeof cell === 'number' ? printNumber(cell) : null)
      // No column has such an id.
      const id = -(1e9 + at) as ColumnId
      known.set(foldName(name), { value: { id, name, of: 'value', type, mayBeBlank: false, mayFail: false, constant }, cell })
    }
    this.#known = known
    this.#byId = new Map([...known.values()].map((one) => [one.value.id, one]))
  }

  /** The names of a formula with the parameters among them. */
  scope(scope: Scope): Scope {
    if (this.#known.size === 0) return scope
    const linked = (link: ScopeLink): ScopeLink => ({ id: link.id, name: link.name, target: this.scope(link.target) })
    return {
      ...scope,
      value: (name) => this.#known.get(foldName(name))?.value ?? scope.value(name),
      values: () => [...[...this.#known.values()].map(({ value }) => value), ...scope.values()],
      link: (name) => {
        const link = scope.link(name)
        return link === undefined ? undefined : linked(link)
      },
      tableNamed: (name) => {
        const other = scope.tableNamed(name)
        return other === undefined ? undefined : this.scope(other)
      },
      ...(scope.ownRows != null && { ownRows: this.scope(scope.ownRows) }),
    }
  }

  /** A checked formula with the values in place of the parameters. */
  filled(checked: CheckedFormula): CheckedFormula {
    return this.#known.size === 0 ? checked : { ...checked, expression: this.#filled(checked.expression) }
  }

  #filled(node: Checked): Checked {
    const known = node.kind === 'single' ? this.#byId.get(node.column) : undefined
    if (known === undefined) return mapParts(node, (part) => this.#filled(part))
    const { type, from, to } = node
    return { kind: 'constant', value: known.cell, type, mayBeBlank: false, mayFail: false, from, to }
  }
}

/** What in scope has a name already; null for nothing. */
function kindInScope(model: Model, table: RowsTable, name: string): string | null {
  if (table.find(name) !== undefined) return 'column'
  if (table.tallies.find(name) !== undefined) return 'tally'
  if (table.link(name) !== undefined) return 'link'
  return model.values.find(name) === undefined ? null : 'value'
}
