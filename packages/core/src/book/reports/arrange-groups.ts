import type { Cell } from '../../columns/index.js'
import { refusal, refuseErrors } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import { otherThanCondition } from '../queries/index.js'
import { compareCells, compareGroups, type GroupNode, hasValue } from './group-tree.js'
import { checkLine } from './line-columns.js'
import { columnNamed, type ViewColumn } from './view-columns.js'
import { groupLine, type Line } from './view-lines.js'
import type { ViewParts } from './view-parts.js'
import { layOut } from './view-sheet.js'

const HAVING = -3 as ColumnId

/** Puts groups in order, and those that are not to be shown together. */
export function arrangeGroups(parts: ViewParts, whole: GroupNode): void {
  const { order = [], top = [], having } = parts.view
  const orders = order.map(({ level, by, descending = false }) => ({
    level: levelNamed(parts, level),
    by: sorting(parts, by),
    descending,
  }))
  const tops = top.map(({ level, by, count, ascending = false }) => {
    return { level: levelNamed(parts, level), by: sorting(parts, by), descending: !ascending, count }
  })
  const values = orders.length + tops.length > 0 || having !== undefined ? valuesOfGroups(parts, whole) : null
  const visit = (outer: GroupNode): void => {
    const level = outer.level + 1
    const isKept = (node: GroupNode): boolean =>
      level !== parts.columns.keys.length || having === undefined || values?.(node, HAVING) === true
    const kept = outer.inner.filter(isKept)
    const last = tops.findLast((one) => one.level === level)
    const keys = last === undefined ? orders.filter((one) => one.level === level) : [last]
    kept.sort((a, b) => {
      const [one, other] = [hasValue(a), hasValue(b)]
      if (one && other)
        for (const { by, descending } of keys) {
          const compared =
            by.level === level
              ? compareCells(a.sortKey, b.sortKey, descending) || compareCells(a.key, b.key, descending)
              : compareCells(values?.(a, by.id) ?? null, values?.(b, by.id) ?? null, descending)
          if (compared !== 0) return compared
        }
      return compareGroups(a, b)
    })
    const shown = last === undefined ? kept : kept.filter(hasValue).slice(0, last.count)
    const isShown = new Set(shown)
    outer.others = outer.inner.filter((node) => !isShown.has(node))
    outer.inner = shown
    for (const node of shown) visit(node)
  }
  visit(whole)
}

/** What the columns have on each group, before any order of lines. */
function valuesOfGroups(parts: ViewParts, whole: GroupNode): (node: GroupNode, column: ColumnId) => Cell {
  const nodes: GroupNode[] = [whole]
  for (let at = 0; at < nodes.length; at++) for (const node of (nodes[at] as GroupNode).inner) nodes.push(node)
  const places = new Map(nodes.map((node, place) => [node, place]))
  const lines = nodes.map(
    (node): Line => ({ ...groupLine(node), parent: node.outer === null ? -1 : (places.get(node.outer) as number) }),
  )
  const known = parts.columns.all.filter(({ line }) => line?.minds !== true)
  const sheet = layOut(parts, lines, known)
  const { having } = parts.view
  if (having !== undefined) {
    const checked = checkLine(parts.names, { name: 'having', formula: having }, known)
    refuseErrors(otherThanCondition(checked, { table: parts.names.table.name, column: 'having' }))
    sheet.calculate(HAVING, parts.names.engine.compile(checked), false)
  }
  return (node, column) => sheet.column(column).read(places.get(node) as number)
}

/** The level that an option is for: that of a key, or the outermost. */
function levelNamed(parts: ViewParts, name: string | undefined): number {
  if (name === undefined) return 1
  return columnNamed(parts.columns.keyColumns, name, parts.view).level as number
}

/** A column that groups can be put in order by. */
function sorting(parts: ViewParts, name: string): ViewColumn {
  const column = columnNamed([...parts.columns.keyColumns, ...parts.columns.all], name, parts.view)
  if (column.line?.minds !== true) return column
  const reason = `${printName(column.name)} depends on the order of the lines, so they cannot be put in order by it.`
  throw refusal(
    'bad-operation',
    { place: 'the view, field order', reason },
    { table: parts.names.table.name, column: column.name },
  )
}
