import { functionNamed, isOverRows } from '../../functions/index.js'
import { foldName, printName } from '../../values/index.js'
import { type Clause, childrenOf, type NamePart, type Syntax } from '../syntax/index.js'
import type { RowsRead } from './checked.js'
import type { CheckContext } from './context.js'
import { isKeywordPart, refuseOutsider } from './names.js'
import { linksOfPath } from './paths.js'
import type { Scope, ScopeLink } from './scope.js'

type NameNode = Syntax & { kind: 'name' }

/** The rows an aggregate reads, with the names that hold there; `alone` when its first argument is only their table. */
export interface ReadingPlace {
  readonly rows: RowsRead
  readonly scope: Scope
  readonly alone: boolean
}

/** Says which rows a call reads (docs/language, "Aggregates"), or null after saying why that cannot be told. */
export function rowsReadBy(
  context: CheckContext,
  args: readonly Syntax[],
  way: (Clause & { kind: 'via' | 'below' }) | undefined,
  call: Syntax,
): ReadingPlace | null {
  const home = context.scope
  const named = args.flatMap((arg) => tablesNamed(context, arg))
  const first = named[0]
  if (first === undefined) return way === undefined ? own(context, call) : ofOwnTable(context, way)
  const second = named.find((one) => foldName(one.table.name) !== foldName(first.table.name))
  if (second !== undefined) {
    context.report('second-table', { first: printName(first.table.name), second: printName(second.table.name) }, second.table)
    return null
  }
  const scope = home.tableNamed(first.table.name)
  if (scope === undefined && home.function !== undefined) {
    refuseOutsider(context, first.node)
    return null
  }
  if (scope === undefined) {
    const near = context.nearest(first.table.name, () => home.tableNames())
    const fixes =
      near === undefined
        ? []
        : [{ title: `Use ${printName(near)}`, edits: [{ from: first.table.from, to: first.table.to, insert: printName(near) }] }]
    const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
    context.report('unknown-table', { name: printName(first.table.name), hint }, first.table, fixes)
    return null
  }
  for (const { table } of named) context.tables.push({ table: scope.table, from: table.from, to: table.to })
  const alone = isTableAlone(args[0], first.node)
  if (named.some((one) => one.node.every)) {
    if (way !== undefined) {
      const edits = [{ from: way.from, to: way.to, insert: '' }]
      const reason = `every ${printName(scope.table)} reads all rows, so there is no link to choose.`
      context.report('misplaced-clause', { clause: way.kind, reason }, way, [{ title: `Leave ${way.kind} out`, edits }])
      return null
    }
    return { rows: { table: scope.table, which: 'every', links: [] }, scope, alone }
  }
  const links = linkedBy(context, scope, first.table, way, call)
  return links === null ? null : { rows: { table: scope.table, which: 'linked', links }, scope, alone }
}

function own(context: CheckContext, call: Syntax): ReadingPlace | null {
  const home = context.scope
  if (home.ownRows === null) {
    const reason = 'a named value has no rows of its own; read those of a table, as in sum(every table.column).'
    context.report('not-here', { found: context.source(call), reason }, call)
    return null
  }
  return { rows: { table: home.table, which: 'own', links: [] }, scope: home.ownRows ?? home, alone: false }
}

/** Rows of the own table reached through its link to itself: `via` the children, `below` all descendants. */
function ofOwnTable(context: CheckContext, way: Clause & { kind: 'via' | 'below' }): ReadingPlace | null {
  const home = context.scope
  const found = linksOfPath(context, home, way.path)
  if (found === null) return null
  if (foldName(found.end.table) !== foldName(home.table)) {
    const reason = `${context.source(way)} leads to ${printName(found.end.table)}; for rows of this table it must lead back to it.`
    context.report('misplaced-clause', { clause: way.kind, reason }, way)
    return null
  }
  const which = way.kind === 'below' ? 'below' : 'linked'
  return { rows: { table: home.table, which, links: found.links.map((link) => link.id) }, scope: home, alone: false }
}

/** The links that lead from the rows of a table to this row. */
function linkedBy(
  context: CheckContext,
  scope: Scope,
  table: NamePart,
  way: (Clause & { kind: 'via' | 'below' }) | undefined,
  call: Syntax,
): RowsRead['links'] | null {
  const home = context.scope
  if (way !== undefined) {
    const found = linksOfPath(context, scope, way.path)
    if (found === null) return null
    if (foldName(found.end.table) === foldName(home.table) && way.kind === 'via') return found.links.map((link) => link.id)
    const reason = `${context.source(way)} leads from ${printName(scope.table)} to ${printName(found.end.table)}, not to this table.`
    context.report('misplaced-clause', { clause: way.kind, reason }, way)
    return null
  }
  const isRowless = home.ownRows !== undefined
  const links: ScopeLink[] = [...scope.links()].filter(
    (link) => !isRowless && foldName(link.target.table) === foldName(home.table),
  )
  if (links.length === 1) return [(links[0] as ScopeLink).id]
  const name = printName(scope.table)
  if (links.length === 0) {
    const fixes = [{ title: `Read all rows: every ${name}`, edits: [{ from: table.from, to: table.from, insert: 'every ' }] }]
    context.report('no-link', { table: name, home: printName(home.table) }, table, fixes)
    return null
  }
  const fixes = links.map((link) => ({
    title: `via ${printName(link.name)}`,
    edits: [{ from: call.to - 1, to: call.to - 1, insert: ` via ${printName(link.name)}` }],
  }))
  context.report('several-links', { table: name, links: links.map((link) => printName(link.name)).join(', ') }, table, fixes)
  return null
}

function isTableAlone(arg: Syntax | undefined, node: NameNode): boolean {
  return arg === node && node.parts.length === 1
}

/** The tables that the names of an argument ask for; calls that read rows of their own are left out. */
function tablesNamed(context: CheckContext, arg: Syntax): { node: NameNode; table: NamePart }[] {
  const { scope } = context
  // What a column or a link of the rows is called comes before a table of that name, also where no row is looked at.
  const own = scope.ownRows ?? scope
  const found: { node: NameNode; table: NamePart }[] = []
  const isBareTable = (node: NameNode): boolean =>
    arg === node &&
    node.parts.length === 1 &&
    own.column(node.parts[0].name) === undefined &&
    scope.tally(node.parts[0].name) === undefined &&
    scope.value(node.parts[0].name) === undefined &&
    scope.tableNamed(node.parts[0].name) !== undefined
  const walk = (node: Syntax): void => {
    if (node.kind === 'name') {
      const [head] = node.parts
      const given = context.givenBy((node.parts.at(-1) as NamePart).name)
      if (given !== undefined) return walk(given)
      const isKeyword = isKeywordPart(head, 'this') || isKeywordPart(head, 'book')
      const isQualified = node.parts.length > 1 && !isKeyword && own.link(head.name) === undefined
      if (node.every || (isQualified && scope.tableNamed(head.name) !== undefined) || isBareTable(node))
        found.push({ node, table: head })
      return
    }
    const record = node.kind === 'call' ? functionNamed(node.name.name) : undefined
    if (record !== undefined && isOverRows(record)) return
    for (const child of childrenOf(node)) walk(child)
  }
  walk(arg)
  return found
}
