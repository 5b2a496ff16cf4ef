import type { Engine } from '../../engine/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, KeptView, Model } from '../model/index.js'
import { type Addressed, addressOf, formulaOf, viewsWith } from '../model/index.js'
import { edgesInto, type TraceEdge } from './edges.js'

/** What a column is made from and what is made from it, as far as it goes. */
export interface Trace {
  /** Its address. */
  readonly column: string
  /** Its formula; null for a source column, and where it is withheld. */
  readonly formula: string | null
  /** True where the formula is not for the reader to see; `upstream` then has the columns of the row that it names and they see. */
  readonly isWithheld: boolean
  /** The nearest first. */
  readonly upstream: readonly TraceEdge[]
  /** The nearest first. */
  readonly downstream: readonly TraceEdge[]
  /** Reports and charts that read it, or anything made from it, and charts of those reports: the column that each reads. */
  readonly shownIn: readonly ShownIn[]
}

/** A report or chart that shows something of a column. */
export interface ShownIn {
  /** The column that it reads, or the report that it draws. */
  readonly from: string
  /** Its address, `report:name` or `chart:name`. */
  readonly view: string
}

/** Follows a column both ways. */
export function traceColumn(model: Model, engine: Engine, start: Addressed): Trace {
  const into = new Map<string, TraceEdge[]>()
  const outOf = new Map<string, TraceEdge[]>()
  const byAddress = new Map<string, ColumnModel>()
  for (const owned of model.columns()) {
    byAddress.set(addressOf(owned), owned.column)
    const edges = edgesInto(model, engine, owned)
    if (edges.length > 0) into.set(addressOf(owned), edges)
    for (const edge of edges) outOf.set(edge.from, [...(outOf.get(edge.from) ?? []), edge])
  }
  const column = addressOf(start)
  const downstream = walk(column, outOf, (edge) => edge.to)
  const reached = [column, ...new Set(downstream.map(({ to }) => to))]
  return {
    column,
    formula: formulaOf(start.column)?.text ?? null,
    isWithheld: start.column.isWithheld,
    upstream: walk(column, into, (edge) => edge.from),
    downstream,
    shownIn: reached.flatMap((from) => {
      const of = byAddress.get(from)
      return of === undefined ? [] : viewsOf(model, from, of)
    }),
  }
}

/** The reports and charts with a formula that names a column, and the charts of those reports. */
function viewsOf(model: Model, from: string, column: ColumnModel): ShownIn[] {
  const addressed = ({ kind, name }: KeptView): string => `${kind}:${printName(name)}`
  return viewsWith(model, column).flatMap((view) => {
    const drawn = view.kind === 'report' ? [...model.charts.values()].filter((chart) => chart.draws(view.name)) : []
    return [{ from, view: addressed(view) }, ...drawn.map((chart) => ({ from: addressed(view), view: addressed(chart) }))]
  })
}

/** All edges that lead on from a column, the nearest first; a column is gone through once. */
function walk(from: string, edges: ReadonlyMap<string, readonly TraceEdge[]>, next: (edge: TraceEdge) => string): TraceEdge[] {
  const found: TraceEdge[] = []
  const seen = new Set([from])
  let reached = [from]
  for (let depth = 1; reached.length > 0; depth++) {
    const further: string[] = []
    for (const address of reached) {
      for (const edge of edges.get(address) ?? []) {
        found.push({ ...edge, depth })
        if (seen.has(next(edge))) continue
        seen.add(next(edge))
        further.push(next(edge))
      }
    }
    reached = further
  }
  return found
}

/** A trace as text: what it is made from above, what is made from it below, set in by distance. */
export function traceText({ column, formula, isWithheld, upstream, downstream, shownIn }: Trace): string {
  const line = (edge: TraceEdge, shown: string): string => {
    const role = edge.role === 'value' ? '' : `, ${edge.role}`
    const plan = edge.plan === null ? '' : ` — ${edge.plan}`
    const text = edge.kind === 'same row' ? '' : ` in ${edge.text.replaceAll(/\s+/g, ' ')}`
    return `${'  '.repeat(edge.depth)}${shown}  (${edge.kind}${role}${text})${plan}`
  }
  const list = (edges: readonly TraceEdge[], none: string, shown: (edge: TraceEdge) => string): string[] =>
    edges.length === 0
      ? [`  ${none}`]
      : edges.map((edge) => line(edge, edge.depth === 1 ? shown(edge) : `${edge.from} → ${edge.to}`))
  return [
    formula !== null ? `${column} = ${formula}` : isWithheld ? `${column}, whose formula is withheld` : `${column}, a source`,
    'is made from',
    ...list(upstream, isWithheld ? 'columns you do not see' : 'nothing: its values are typed or read', (edge) => edge.from),
    ...(isWithheld && upstream.length > 0 ? ['  and from columns you do not see'] : []),
    'leads to',
    ...list(downstream, 'nothing yet', (edge) => edge.to),
    ...(shownIn.length === 0 ? [] : ['is shown in']),
    ...new Set(shownIn.map(({ from, view }) => `  ${view}  (${from === column ? 'reads it' : `by ${from}`})`)),
  ].join('\n')
}

/** A trace as a flowchart in the Mermaid notation. */
export function traceMermaid({ column, upstream, downstream, shownIn }: Trace): string {
  const edges = [...upstream, ...downstream, ...shownIn.map(({ from, view }) => ({ from, to: view, kind: 'shown' }))]
  const names = [...new Set([column, ...edges.flatMap((edge) => [edge.from, edge.to])])]
  const idOf = (name: string): string => `c${names.indexOf(name)}`
  const quoted = (text: string): string => `"${text.replaceAll('"', '#quot;')}"`
  const arrows = edges.map((edge) => `  ${idOf(edge.from)} -->|${quoted(edge.kind)}| ${idOf(edge.to)}`)
  return ['flowchart LR', ...names.map((name) => `  ${idOf(name)}[${quoted(name)}]`), ...new Set(arrows)].join('\n')
}
