import type { Cell } from '../../columns/index.js'
import type { ColumnId } from '../../formula/index.js'
import { HAVING, unordered } from './arrangement.js'
import { compareCells, compareGroups, type GroupNode, hasValue } from './group-tree.js'
import { groupLine, type Line } from './view-lines.js'
import type { ViewParts } from './view-parts.js'
import { layOut } from './view-sheet.js'

/** Puts groups in order, and those that are not to be shown together. */
export function arrangeGroups(parts: ViewParts, whole: GroupNode): void {
  const { orders, tops, having } = parts.arrangement
  const values = orders.length + tops.length > 0 || having !== null ? valuesOfGroups(parts, whole) : null
  const visit = (outer: GroupNode): void => {
    const level = outer.level + 1
    const isKept = (node: GroupNode): boolean =>
      level !== parts.columns.keys.length || having === null || values?.(node, HAVING) === true
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
  const sheet = layOut(parts, lines, unordered(parts.columns))
  const { having } = parts.arrangement
  if (having !== null) sheet.calculate(HAVING, having, false)
  return (node, column) => sheet.column(column).read(places.get(node) as number)
}
