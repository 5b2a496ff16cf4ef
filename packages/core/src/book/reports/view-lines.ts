import type { GroupedView } from '../schemas/index.js'
import type { GroupNode } from './group-tree.js'
import type { ViewLine } from './grouped-view.js'
import type { ViewParts } from './view-parts.js'

/** A line while the view is made. */
export interface Line extends ViewLine {
  /** The group it is; of a row the group it is in, of the others the group they are in. */
  readonly node: GroupNode
  /** The slots of its rows, where it is no group of its own. */
  readonly slots: Int32Array | null
  /** Places of lines around it in the list; -1 for none. */
  parent: number
  previous: number
  next: number
}

/** True for views in which the rows of each group are lines too. */
export function isWithRows({ columns = [], details = columns.length > 0 ? 'shown' : 'none' }: GroupedView): boolean {
  return details !== 'none'
}

/** The lines, a group before its parts, the whole last. */
export function linesOf(parts: ViewParts, whole: GroupNode): Line[] {
  const lines: Line[] = []
  /** Puts a line in, behind the one before it. */
  const put = (line: Line, parent: number, previous: number): number => {
    const place = lines.push({ ...line, parent, previous }) - 1
    if (previous >= 0) (lines[previous] as Line).next = place
    return place
  }
  const visit = (outer: GroupNode, parent: number): void => {
    let previous = -1
    for (const node of outer.inner) {
      previous = put(groupLine(node), parent, previous)
      visit(node, previous)
    }
    if (outer.others.length > 0) put(othersLine(parts, outer), parent, previous)
    if (outer.level < parts.columns.keys.length || !isWithRows(parts.view)) return
    previous = -1
    for (const slot of parts.rows.rowsOf(outer.level, outer.group)) previous = put(rowLine(parts, outer, slot), parent, previous)
  }
  visit(whole, -1)
  const last = put(groupLine(whole), -1, -1)
  for (const line of lines) if (line.parent < 0 && line !== lines[last]) line.parent = last
  return lines
}

function othersLine(parts: ViewParts, outer: GroupNode): Line {
  const level = outer.level + 1
  const slots = outer.others.map(({ group }) => parts.rows.rowsOf(level, group))
  const rowCount = slots.reduce((sum, { length }) => sum + length, 0)
  const all = new Int32Array(rowCount)
  let at = 0
  for (const part of slots) {
    all.set(part, at)
    at += part.length
  }
  return { kind: 'others', level, rowCount, groupCount: outer.others.length, ...NO_ROW, node: outer, slots: all, ...ALONE }
}

function rowLine(parts: ViewParts, node: GroupNode, slot: number): Line {
  const { rows } = parts.names.table.store
  const place = { row: rows.idOf(slot), rowNumber: rows.placeOf(slot) + 1 }
  return {
    kind: 'row',
    level: node.level + 1,
    rowCount: 1,
    groupCount: null,
    ...place,
    node,
    slots: Int32Array.of(slot),
    ...ALONE,
  }
}

/** Of a line that is no row. */
const NO_ROW = { row: null, rowNumber: null } as const

/** A line that no other stands around yet. */
const ALONE = { parent: -1, previous: -1, next: -1 } as const

/** The line of a group. */
export function groupLine(node: GroupNode): Line {
  const kind = node.level === 0 ? 'whole' : 'group'
  return { kind, level: node.level, rowCount: node.size, groupCount: null, ...NO_ROW, node, slots: null, ...ALONE }
}
