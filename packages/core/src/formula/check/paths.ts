import type { Fix } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { NamePart, Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'
import type { LinkId } from './ids.js'
import { isKeywordPart, readIn, refuseOutsider } from './names.js'
import { factsOf } from './nodes.js'
import type { Scope, ScopeLink } from './scope.js'

type NameNode = Syntax & { kind: 'name' }

/** A name of several parts: through links, of a table being read, of the row or of the book. */
export function checkPath(context: CheckContext, node: NameNode): Checked {
  const [head, ...rest] = node.parts
  if (node.every) return everyName(context, node)
  if (isKeywordPart(head, 'this')) return readOuter(context, rest as unknown as [NamePart, ...NamePart[]], node)
  if (isKeywordPart(head, 'book') && rest.length === 1) return readBook(context, rest[0] as NamePart, node)
  // Inside an aggregate a qualifier that is the table read says what a bare name says.
  const readsTable = context.readsTable(head.name) && context.scope.link(head.name) === undefined
  const parts = readsTable ? rest : node.parts
  if (readsTable) context.tables.push({ table: context.scope.table, from: head.from, to: head.to })
  return followParts(context, context.scope, parts as readonly [NamePart, ...NamePart[]], node)
}

function everyName(context: CheckContext, node: NameNode): Checked {
  const [table, ...rest] = node.parts
  if (!context.readsTable(table.name)) {
    const reason = 'it belongs into a function of several rows, such as sum(every table.column).'
    context.report('not-here', { found: `every ${printName(table.name)}`, reason }, node)
    return context.unknown(node)
  }
  if (rest.length === 0) {
    context.report('not-here', { found: printName(table.name), reason: 'a table is not a value; name one of its columns.' }, node)
    return context.unknown(node)
  }
  return followParts(context, context.scope, rest as unknown as [NamePart, ...NamePart[]], node)
}

/** `this.x`: a step or column of the row that the function of several rows is computed for. */
function readOuter(context: CheckContext, parts: readonly [NamePart, ...NamePart[]], node: NameNode): Checked {
  const inner = context.atOuterRow(() => {
    const step = parts.length === 1 ? context.stepNamed(parts[0].name) : undefined
    if (step !== undefined)
      return { ...factsOf(step.value), kind: 'step', step: step.step, from: node.from, to: node.to } as Checked
    const given = context.givenBy(parts[0].name)
    if (given !== undefined) return context.check(given)
    return followParts(context, context.scope, parts, node)
  })
  return context.isInRows ? { ...factsOf(inner), kind: 'outer', inner, from: node.from, to: node.to } : inner
}

function readBook(context: CheckContext, part: NamePart, node: Syntax): Checked {
  const value = context.scope.value(part.name)
  if (value !== undefined) {
    return context.readSingle(value, node)
  }
  const near = context.nearest(part.name, () => [...context.scope.values()].map((one) => one.name))
  const { hint, fixes } = nearFix(near, part)
  context.report('unknown-name', { place: 'The book', name: printName(part.name), hint }, part, fixes)
  return context.unknown(node)
}

/** Follows links from a table to a column, tally or value; the last part is the name read. */
function followParts(context: CheckContext, from: Scope, parts: readonly [NamePart, ...NamePart[]], node: NameNode): Checked {
  const links: LinkId[] = []
  let scope = from
  for (const part of parts.slice(0, -1)) {
    const link = scope.link(part.name)
    if (link === undefined) return brokenPath(context, scope, part, links.length === 0, node)
    links.push(link.id)
    scope = link.target
  }
  const last = parts.at(-1) as NamePart
  const read = readIn(context, scope, last, node)
  if (read === undefined) {
    const near = context.nearest(last.name, () => [...scope.columnNames(), ...[...scope.tallies()].map((one) => one.name)])
    const { hint, fixes } = nearFix(near, last)
    context.report('unknown-name', { place: `Table ${scope.table}`, name: printName(last.name), hint }, last, fixes)
    return context.unknown(node)
  }
  if (links.length === 0 || read.kind === 'single') return read
  return { type: read.type, mayBeBlank: true, mayFail: true, kind: 'follow', links, read, from: node.from, to: node.to }
}

/** A qualifier that is no link: the tally of a table, or a finding that says how other tables are reached. */
function brokenPath(context: CheckContext, scope: Scope, part: NamePart, isFirst: boolean, node: NameNode): Checked {
  const table = isFirst ? scope.tableNamed(part.name) : undefined
  const column = node.parts.at(-1) as NamePart
  const tally = node.parts.length === 2 ? table?.tally(column.name) : undefined
  if (table !== undefined && tally !== undefined) {
    context.tables.push({ table: table.table, from: part.from, to: part.to })
    return context.readSingle(tally, node)
  }
  const name = context.source(node)
  if (scope.function !== undefined) {
    refuseOutsider(context, node)
    return context.unknown(node)
  }
  const own = scope.column(column.name)
  const fixes: Fix[] = []
  let hint = ''
  const whole = { from: node.from, to: node.to }
  if (own !== undefined) {
    hint = ` This table's own column is ${printName(own.name)}.`
    fixes.push({ title: `Use ${printName(own.name)}`, edits: [{ ...whole, insert: printName(own.name) }] })
  }
  const other = table?.column(column.name)
  if (other !== undefined && foldName(table?.table ?? '') !== foldName(scope.table)) {
    const number = other.type === 'number' || other.type === 'integer'
    const insert = `${number ? 'sum' : 'last'}(every ${name})`
    hint += ` A total over all its rows is ${insert}; without every, over the rows linked to this one.`
    fixes.push({ title: `Use ${insert}`, edits: [{ ...whole, insert }] })
  }
  if (table === undefined) {
    const near = context.nearest(part.name, () => [...scope.links()].map((link) => link.name))
    if (near !== undefined) {
      hint += ` Nearest link: ${printName(near)}.`
      fixes.push({ title: `Use ${printName(near)}`, edits: [{ from: part.from, to: part.to, insert: printName(near) }] })
    }
  }
  // A link that is not there is said once, however often it is followed.
  if (table === undefined && !context.isNews(`link ${foldName(part.name)}`)) return context.unknown(node)
  context.report('unexpected-qualifier', { name, table: scope.table, link: printName(part.name), hint }, node, fixes)
  return context.unknown(node)
}

function nearFix(near: string | undefined, part: NamePart): { hint: string; fixes: Fix[] } {
  if (near === undefined) return { hint: '', fixes: [] }
  const insert = printName(near)
  return {
    hint: ` Nearest name: ${insert}.`,
    fixes: [{ title: `Use ${insert}`, edits: [{ from: part.from, to: part.to, insert }] }],
  }
}

/** The links that a `via` path names, from a table on; null after saying what is wrong. */
export function linksOfPath(
  context: CheckContext,
  from: Scope,
  path: readonly NamePart[],
): { links: ScopeLink[]; end: Scope } | null {
  const links: ScopeLink[] = []
  let scope = from
  for (const part of path) {
    const link = scope.link(part.name)
    if (link === undefined) {
      if (part.name !== '') reportUnknownLink(context, scope, part)
      return null
    }
    links.push(link)
    scope = link.target
  }
  return { links, end: scope }
}

function reportUnknownLink(context: CheckContext, scope: Scope, part: NamePart): void {
  const names = [...scope.links()].map((link) => link.name)
  const near = context.nearest(part.name, () => names)
  const { fixes } = nearFix(near, part)
  const hint = names.length === 0 ? ' It has none.' : ` Its links: ${names.map(printName).join(', ')}.`
  context.report('unknown-link', { table: scope.table, name: printName(part.name), hint }, part, fixes)
}
