import { type Finding, finding, hasErrors, Refusal, refuseErrors } from '../../findings/index.js'
import {
  type CheckedFormula,
  type ColumnId,
  checkFormula,
  type Parsed,
  parseFormula,
  typeWords,
  visitNames,
} from '../../formula/index.js'
import { foldName, printName, type ValueType } from '../../values/index.js'
import type { ColumnFormula, ColumnModel, Model, TableModel } from '../model/index.js'
import { columnsRead, scopeOf, targetOf, violationOf } from '../model/index.js'
import { checkFunctions, valuesOfFunctions } from './check-functions.js'
import { type RingLayout, ringLayout } from './rings.js'
import type { Transaction } from './transaction.js'

/** The types of a ring are known after so many passes, or never. */
const MOST_PASSES = 4

/** A column whose formula has to be bound before the one at hand can be. */
class NotBoundYet extends Error {
  readonly owned: Owned

  constructor(owned: Owned) {
    super(`${owned.column.name} is not bound yet`)
    this.owned = owned
  }
}

interface Owned {
  readonly table: TableModel
  readonly column: ColumnModel
}

/**
 * Checks every formula that the operations left unbound, and those that read a column whose type changed, sources first; so
 * inside one call definitions may come in any order. Refuses with everything found.
 */
export function bindFormulas(transaction: Transaction): void {
  const { model } = transaction
  if (transaction.hasOtherFunctions) checkFunctions(model)
  recheck(transaction)
  bindUnbound(transaction)
  // What is in another unit now is read by others: a conversion among them has become another calculation.
  while (transaction.inOtherUnit.size > 0) if (followUnits(transaction)) bindUnbound(transaction)
  for (const column of transaction.setAside) findNamesAside(transaction, column)
  // What a function reads has its type now.
  if (transaction.hasOtherFunctions || transaction.hasOtherValues) checkFunctions(model)
}

function bindUnbound(transaction: Transaction): void {
  if (transaction.unbound.size > 0 || transaction.retyped.size > 0) new Binding(transaction).run()
}

/** Checks the formulas again that read columns in another unit than before; true where one of them is another calculation now. */
function followUnits(transaction: Transaction): boolean {
  const { model, engine, rechecked, inOtherUnit, unbound } = transaction
  rechecked.clear()
  for (const column of inOtherUnit) {
    inOtherUnit.delete(column)
    for (const id of engine.columnGraph.dependentsOf(column.id)) {
      const reader = model.hasColumn(id) ? model.columnOf(id) : null
      if (reader === null || reader.column.formula === null || id === column.id) continue
      if (!renew(transaction, reader)) {
        unbound.set(reader.column, reader.table)
        rechecked.set(reader.column, reader.table)
      }
    }
  }
  return rechecked.size > 0
}

/** Checks a formula again; false where it has become another one, which is to be bound anew. */
function renew(transaction: Transaction, { table, column }: Owned): boolean {
  const formula = column.formula as ColumnFormula
  const checked = checkColumn(transaction.model, table, column)
  if (formula.checked === null || !isSamePlan(formula.checked, checked)) return false
  transaction.noteUnit(column, () => {
    formula.checked = checked
  })
  transaction.engine.renewFindings(column.id, checked.findings)
  transaction.findingsDue.add(column)
  return true
}

/**
 * Checks formulas again whose surroundings have changed. One that means the same as before keeps its values, and has its
 * findings renewed; any other is bound anew.
 */
function recheck(transaction: Transaction): void {
  const { model, rechecked, unbound } = transaction
  for (const [column, table] of rechecked) {
    if (column.formula === null || unbound.has(column) || !model.hasColumn(column.id)) continue
    const isOpen = unbound.size > 0 || transaction.retyped.size > 0
    if (isOpen || !renew(transaction, { table, column })) unbound.set(column, table)
  }
}

/** True for formulas that are computed the same way. */
export function isSamePlan(one: CheckedFormula, other: CheckedFormula): boolean {
  const text = ({ expression, watches }: CheckedFormula): string =>
    JSON.stringify([expression, watches], (key, value: unknown) =>
      key === 'record' ? (value as { name: string }).name : typeof value === 'bigint' ? `${value}n` : value,
    )
  return text(one) === text(other)
}

/** Checks the formula of a column by what is known of the others now. */
function checkColumn(model: Model, table: TableModel, column: ColumnModel): CheckedFormula {
  return checkFormula(parseFormula((column.formula as ColumnFormula).text), scopeOf(model, table, column), targetOf(column))
}

/** Finds what a formula put aside names, so that it follows renaming. */
function findNamesAside({ model, isUndoRedo }: Transaction, column: ColumnModel): void {
  if (column.paused === null || !model.hasColumn(column.id)) return
  const { formula } = column.paused
  const { table } = model.columnOf(column.id)
  formula.checked = checkFormula(parseFormula(formula.text), scopeOf(model, table, column))
  const place = { table: table.name, column: column.name }
  const [first, ...others] = formula.checked.findings.filter((one) => one.severity === 'error')
  if (first !== undefined && !isUndoRedo) throw new Refusal([{ ...first, ...place }, ...others])
}

class Binding {
  readonly #transaction: Transaction
  readonly #parsed: Map<ColumnId, Parsed> = new Map()
  readonly #owned: Map<ColumnId, Owned> = new Map()
  /** What was bound, in order; a formula that is bound again takes its place anew. */
  readonly #findings: Map<ColumnId, readonly Finding[]> = new Map()
  readonly #retyped: Set<ColumnId>
  readonly #waiting: Set<ColumnId>
  /** Columns that have turned out to read each other, while they are bound together. */
  readonly #ring: Map<ColumnId, Owned> = new Map()

  /** Types that columns of rings had before they were bound together, since that begins with none. */
  readonly #typesBefore: Map<ColumnId, ValueType | null> = new Map()

  constructor(transaction: Transaction) {
    this.#transaction = transaction
    this.#retyped = new Set([...transaction.retyped].map((column) => column.id))
    this.#waiting = new Set([...transaction.unbound.keys()].map((column) => column.id))
  }

  run(): void {
    const { engine, unbound } = this.#transaction
    this.#takeWholeRings()
    for (const [column, table] of unbound) this.#takeNames(column, table)
    const order = this.#walkNamed([...[...unbound.keys()].map(({ id }) => id), ...this.#retyped])
    for (const id of order) {
      const isTouched = this.#waiting.has(id) || engine.columnGraph.sourcesOf(id).some((source) => this.#retyped.has(source))
      if (!isTouched) continue
      this.#takeWholeRing(id)
      this.#bindWithSources(id)
    }
    this.#refuseErrors()
    this.#closeRings()
  }

  /** What has turned out to go round although each formula could be bound on its own is a ring, or refused. */
  #closeRings(): void {
    const { engine, model } = this.#transaction
    for (let left = this.#findings.size; ; left--) {
      const walked = engine.columnGraph.downstream([...this.#findings.keys()])
      if (!('cycle' in walked)) return
      const { cycle } = walked
      const ids = new Set(cycle.flatMap((id) => [id, ...(model.rings.get(id) ?? [])]))
      const isRefused =
        left < 0 ||
        this.#bindRing(
          [...ids].map((id) => model.columnOf(id)),
          cycle,
        ) !== null
      if (isRefused) throw this.#cycle(cycle)
      this.#refuseErrors()
    }
  }

  #refuseErrors(): void {
    const findings = [...this.#findings.values()].flat()
    refuseErrors(findings)
  }

  /** A ring of which one formula changes is bound anew as a whole. */
  #takeWholeRings(): void {
    const { unbound, retyped } = this.#transaction
    for (const id of [...[...unbound.keys()].map(({ id }) => id), ...[...retyped].map(({ id }) => id)]) this.#takeWholeRing(id)
  }

  #takeWholeRing(id: ColumnId): void {
    const { unbound, model, rings } = this.#transaction
    for (const other of rings.get(id) ?? []) {
      rings.delete(other)
      if (!model.hasColumn(other)) continue
      const { table, column } = model.columnOf(other)
      if (column.formula === null) continue
      unbound.set(column, table)
      this.#waiting.add(other)
    }
  }

  /** What a formula reads by name and within the row; what it reads from elsewhere is told exactly once it is checked. */
  #takeNames(column: ColumnModel, table: TableModel): void {
    const own = parseFormula((column.formula as { text: string }).text)
    this.#parsed.set(column.id, own)
    this.#owned.set(column.id, { table, column })
    const { engine, model } = this.#transaction
    // The names of a rule are those of its table; its own is none of them.
    const named = table.role === 'rules' ? model.table(table.name) : table
    const sources = namedSources(own, named, column, model)
    for (const id of valuesOfFunctions(model, own)) sources.add(id)
    engine.columnGraph.setSources(column.id, sources)
  }

  /** Everything from some columns on, sources first; a formula that closes a cycle with others may make a ring of them. */
  #walkNamed(from: readonly ColumnId[]): ColumnId[] {
    const { engine, unbound, model } = this.#transaction
    for (;;) {
      const walked = engine.columnGraph.downstream(from)
      if (!('cycle' in walked)) return walked.order
      const others = walked.cycle.filter((id) => !this.#owned.has(id) && model.columnOf(id).column.formula !== null)
      if (others.length === 0) throw this.#cycle(walked.cycle)
      for (const id of new Set(others)) {
        const { table, column } = model.columnOf(id)
        unbound.set(column, table)
        this.#waiting.add(id)
        this.#takeNames(column, table)
      }
    }
  }

  /** Binds a formula, and before it whatever it turns out to need; without recursion, since chains may be long. */
  #bindWithSources(id: ColumnId): void {
    const { model } = this.#transaction
    const open: Owned[] = [this.#owned.get(id) ?? model.columnOf(id)]
    for (let top = open.at(-1); top !== undefined; top = open.at(-1)) {
      try {
        this.#bind(top)
        open.pop()
      } catch (error) {
        if (!(error instanceof NotBoundYet)) throw error
        const { owned } = error
        const at = open.findIndex((one) => one.column === owned.column)
        if (at < 0) {
          open.push(owned)
          continue
        }
        const path = [...open.slice(at).map((one) => one.column.id), owned.column.id]
        const needed = this.#bindRing(open.slice(at), path)
        if (needed === null) open.length = at
        else open.push(needed)
      }
    }
  }

  /**
   * Binds columns that read each other as a ring, whose types follow from each other; refuses what is no ring. Gives the
   * column that has to be bound first, if there is one.
   */
  #bindRing(found: readonly Owned[], path: readonly ColumnId[]): Owned | null {
    for (const one of found) this.#ring.set(one.column.id, one)
    const members = [...this.#ring.values()]
    const [{ table }] = members as [Owned]
    if (table.role !== 'rows' || members.some((one) => one.table !== table)) throw this.#cycle(path)
    for (const { column } of members) {
      if (!this.#typesBefore.has(column.id)) this.#typesBefore.set(column.id, column.type)
      if (!column.declared) column.retype(null)
    }
    let checked = new Map<ColumnId, CheckedFormula>()
    try {
      for (let pass = 0; ; pass++) {
        checked = new Map(members.map((one) => [one.column.id, this.#check(one)]))
        const isStable = members.every(({ column }) => this.#takeType(column, checked.get(column.id) as CheckedFormula))
        if (isStable) break
        if (pass === MOST_PASSES) throw this.#cycle(path)
      }
    } catch (error) {
      if (error instanceof NotBoundYet) return error.owned
      throw error
    }
    for (const one of members) this.#keep(one, checked.get(one.column.id) as CheckedFormula)
    this.#ring.clear()
    if ([...checked.values()].some((one) => hasErrors(one.findings))) return null
    const layout = ringLayout(new Map([...checked].map(([id, one]) => [id, one.expression])))
    if (layout === null) throw this.#cycle(path)
    this.#defineRing(table, layout, checked)
    return null
  }

  #defineRing(table: TableModel, layout: RingLayout, checked: ReadonlyMap<ColumnId, CheckedFormula>): void {
    const { engine, model } = this.#transaction
    const members = layout.order.map((id) => {
      const formula = checked.get(id) as CheckedFormula
      const { type } = model.columnOf(id).column
      if (table.store.column(id)?.type !== type) table.store.makeColumn(id, type ?? 'text')
      const sources = columnsRead(formula, model)
      const sameRow = layout.sameRow.get(id) ?? new Set()
      // Only what is read in the same row comes before: the rest of the ring is of earlier rows.
      for (const other of checked.keys()) if (!sameRow.has(other)) sources.delete(other)
      engine.columnGraph.setSources(id, sources)
      return { column: id, formula, plan: engine.compile(formula) }
    })
    engine.defineRing(table.store, members, layout.by, layout.orderBy)
    for (const { column } of members) this.#transaction.rings.set(column, new Set(checked.keys()))
  }

  /** Gives a column the type of its formula; false when that is another one than before. */
  #takeType(column: ColumnModel, checked: CheckedFormula): boolean {
    if (column.declared) return true
    const { type } = checked.expression
    const found = type === 'blank' || type === 'unknown' ? null : type
    const isSame = column.type === found
    column.retype(found)
    return isSame
  }

  #bind(owned: Owned): void {
    if (owned.column.formula === null) return
    this.#define(owned, this.#check(owned))
  }

  #check({ table, column }: Owned): CheckedFormula {
    const { model } = this.#transaction
    const parsed = this.#parsed.get(column.id) ?? parseFormula((column.formula as { text: string }).text)
    const scope = scopeOf(model, table, column, (owner, other) => {
      // A tally is looked up by a name that means a column inside its aggregate; whether it reads itself its sources say.
      if (other === column && table.role !== 'rows') return
      if (this.#waiting.has(other.id) && !this.#ring.has(other.id)) throw new NotBoundYet({ table: owner, column: other })
    })
    return checkFormula(parsed, scope, targetOf(column))
  }

  /** Keeps what checking a formula gave. */
  #keep({ table, column }: Owned, checked: CheckedFormula): void {
    const formula = column.formula as { checked: CheckedFormula | null }
    const before = formula.checked?.expression
    const place = { table: table.name, column: column.name }
    this.#findings.set(
      column.id,
      [...checked.findings, ...declaredTypeFindings(column, checked)].map((one) => ({ ...one, ...place })),
    )
    const setChecked = (): void => {
      formula.checked = checked
    }
    this.#transaction.noteUnit(column, setChecked, formula.checked === null)
    const type = column.declared ? column.type : checkedType(checked)
    const { expression } = checked
    const typeBefore = this.#typesBefore.get(column.id)
    const isOther =
      before === undefined ||
      type !== (typeBefore === undefined ? column.type : typeBefore) ||
      before.mayBeBlank !== expression.mayBeBlank ||
      before.mayFail !== expression.mayFail
    if (isOther) this.#retyped.add(column.id)
    column.retype(type)
    if (table.role === 'values') this.#transaction.noteOtherValues()
    this.#waiting.delete(column.id)
  }

  #define(owned: Owned, checked: CheckedFormula): void {
    const { engine, model } = this.#transaction
    const { table, column } = owned
    this.#keep(owned, checked)
    // What a formula with mistakes reads cannot be told; the call is refused, and what was known is needed to take it back.
    if (hasErrors(checked.findings)) return
    const sources = columnsRead(checked, model)
    if (column.original !== null) sources.add(column.original)
    engine.columnGraph.setSources(column.id, sources)
    const type = column.type as ValueType
    if (table.store.column(column.id)?.type !== type) table.store.makeColumn(column.id, type)
    const run = table.role === 'rules' ? violationOf(checked, column.properties.blankIsWrong === true) : checked
    engine.define(column.id, table.store, checked, engine.compile(run), type === 'integer')
  }

  #cycle(cycle: readonly ColumnId[]): Refusal {
    const columns = cycle.map((id) => this.#transaction.model.columnOf(id))
    const isOneTable = columns.every(({ table }) => table === columns[0]?.table)
    const nameOf = ({ table, column }: Owned): string =>
      isOneTable ? printName(column.name) : `${printName(table.name)}.${printName(column.name)}`
    const path = columns.map(nameOf).join(' → ')
    const { table, column } = columns[0] as Owned
    return new Refusal([finding('cycle', { name: printName(column.name), path }, { table: table.name, column: column.name })])
  }
}

function namedSources(parsed: Parsed, table: TableModel, own: ColumnModel, { functions }: Model): Set<ColumnId> {
  const sources = new Set<ColumnId>()
  visitNames(
    parsed.tree,
    (mention) => {
      if (mention.kind === 'tag') {
        for (const tagged of table.tagged(mention.name)) if (tagged !== own) sources.add(tagged.id)
        return
      }
      const found = mention.parts.length === 1 ? table.find(mention.parts[0].name) : undefined
      if (found === own && own.original !== null) sources.add(own.original)
      // A tally may have the name of a column that it totals; whether it reads itself is seen when it is checked.
      else if (found !== undefined && (found !== own || table.role === 'rows')) sources.add(found.id)
    },
    foldName,
    (call, argument) => functions.find(call)?.parameters[argument]?.isReadAtRow ?? true,
  )
  return sources
}

function checkedType(checked: CheckedFormula): ValueType {
  const { type } = checked.expression
  return type === 'blank' || type === 'unknown' ? 'text' : type
}

function declaredTypeFindings(column: ColumnModel, checked: CheckedFormula): Finding[] {
  const received = checked.expression.type
  if (!column.declared || column.type === null || received === 'blank' || received === 'unknown') return []
  const expected = column.type === 'integer' ? 'number' : column.type
  if (expected === received) return []
  const { from, to } = checked.expression
  return [
    finding(
      'type-mismatch',
      { place: `The declared type of ${printName(column.name)}`, expected: typeWords(expected), received: typeWords(received) },
      { from, to },
    ),
  ]
}
