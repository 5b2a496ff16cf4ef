import type { Engine } from '../../engine/index.js'
import { type Checked, type CheckedRows, type ColumnId, identityOf, partsOf } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { Model } from '../model/index.js'
import { type Addressed, addressOf, formulaOf } from '../model/index.js'
import { accessPathWords } from './access-path-words.js'

/** Over what a formula reads a column. */
export type EdgeKind =
  | 'same row'
  | 'link'
  | 'linked rows'
  | 'rows below'
  | 'group'
  | 'all rows'
  | 'order'
  | 'named value'
  | 'tally'

/** What a column read is there for. */
export type EdgeRole = 'value' | 'condition' | 'group key' | 'order key' | 'link key' | 'compared with'

/** One column leads to another. */
export interface TraceEdge {
  /** Address of the column that is read. */
  readonly from: string
  /** Address of the column whose formula reads it. */
  readonly to: string
  readonly kind: EdgeKind
  readonly role: EdgeRole
  /** The part of the formula that reads it, as written. */
  readonly text: string
  /** How the engine gets at it, in words; null within the row. */
  readonly plan: string | null
  /** How many steps it is away from the column traced, from 1. */
  readonly depth: number
}

/** All edges into a column, each once; depth 1. */
export function edgesInto(model: Model, engine: Engine, to: Addressed): TraceEdge[] {
  if (to.column.isWithheld)
    return to.column.withheldSources.map((id) => {
      const from = model.columnOf(id)
      const place = { from: addressOf(from), to: addressOf(to), text: printName(from.column.name) }
      return { ...place, kind: 'same row', role: 'value', plan: null, depth: 1 }
    })
  const formula = formulaOf(to.column)
  if (formula === null || formula.checked === null) return []
  const { checked } = formula
  const plans = new Map(
    engine.accessPathsOf(to.column.id).map(({ read, accessPath }) => [identityOf(read), accessPathWords(accessPath)]),
  )
  const edges = new Map<string, TraceEdge>()
  const add = (column: ColumnId, kind: EdgeKind, role: EdgeRole, place: Checked, plan: string | null): void => {
    if (!model.hasColumn(column)) return
    const edge = {
      from: addressOf(model.columnOf(column)),
      to: addressOf(to),
      kind,
      role,
      text: checked.text.slice(place.from, place.to),
      plan,
      depth: 1,
    }
    const key = JSON.stringify([edge.from, edge.kind, edge.role, edge.text])
    if (!edges.has(key)) edges.set(key, edge)
  }
  const keysOf = (links: readonly number[], place: Checked, plan: string | null): void => {
    for (const { link } of model.links())
      if (links.includes(link.id)) for (const { id } of [...link.columns, ...link.keys]) add(id, 'link', 'link key', place, plan)
  }
  const list = ({ rows, read, where }: CheckedRows, place: Checked): void => {
    const kind = kindOfRows(rows.which)
    visit(read, { kind, role: 'value', place, plan: 'a list of days, read once' })
    if (where !== null) visit(where, { kind, role: 'condition', place, plan: 'a list of days, read once' })
  }
  /** `within` is the read of other rows that a part stands in; its place and plan are told, not those of its parts. */
  const visit = (node: Checked, within: Within | null): void => {
    const own = within ?? { kind: 'same row' as const, role: 'value' as const, place: node, plan: null }
    switch (node.kind) {
      case 'column':
        return add(node.column, own.kind, own.role, own.place, own.plan)
      case 'single':
        return add(node.column, node.of === 'tally' ? 'tally' : 'named value', own.role, own.place, planOf(node, own.plan))
      case 'outer':
        return visit(node.inner, { ...own, kind: 'same row', role: 'compared with' })
      case 'follow': {
        const place = within?.place ?? node
        const plan = planOf(node, own.plan)
        keysOf(node.links, place, plan)
        return visit(node.read, { kind: within?.kind ?? 'link', role: own.role, place, plan })
      }
      case 'over-rows': {
        const place = within?.place ?? node
        const plan = planOf(node, own.plan)
        const grouped = node.by.length > 0 && node.rows.which === 'own' ? 'group' : kindOfRows(node.rows.which)
        const kind = node.record.form === 'ordered' ? 'order' : grouped
        keysOf(node.rows.links, place, plan)
        for (const arg of node.args) visit(arg, { kind, role: 'value', place, plan })
        if (node.where !== null) visit(node.where, { kind, role: 'condition', place, plan })
        for (const key of node.by) visit(key, { kind, role: 'group key', place, plan })
        for (const { key } of node.order) visit(key, { kind, role: 'order key', place, plan })
        return
      }
      default:
        if (node.kind === 'call' && node.holidays !== undefined) list(node.holidays, node)
        for (const part of partsOf(node)) visit(part, within)
    }
  }
  const planOf = (node: Checked, otherwise: string | null): string | null => plans.get(identityOf(node)) ?? otherwise
  visit(checked.expression, null)
  if (to.column.original !== null)
    add(
      to.column.original,
      'same row',
      'value',
      { ...checked.expression, from: 0, to: 0 },
      `the values that ${printName(to.column.name)} replaces`,
    )
  return [...edges.values()]
}

interface Within {
  readonly kind: EdgeKind
  readonly role: EdgeRole
  readonly place: Checked
  readonly plan: string | null
}

function kindOfRows(which: 'own' | 'every' | 'linked' | 'below'): EdgeKind {
  if (which === 'linked') return 'linked rows'
  return which === 'below' ? 'rows below' : 'all rows'
}
