import type { Cell } from '../../columns/index.js'
import { CellFault, FAULT_CODES } from '../../values/index.js'
import { columnGiven, compareScalars, placesOf } from '../queries/index.js'
import type { ViewParts } from './view-parts.js'

/** A group of a grouped view with the groups inside it; the whole is the outermost. */
export interface GroupNode {
  readonly level: number
  /** Its number on its level. */
  readonly group: number
  readonly key: Cell
  /** What it is sorted by among values, where that is not the key. */
  readonly sortKey: Cell
  /** How many rows it has. */
  readonly size: number
  readonly outer: GroupNode | null
  /** The groups inside it that are shown, in their order. */
  inner: GroupNode[]
  /** The groups inside it that stand together in one line. */
  others: GroupNode[]
}

/** Groups with a value come first, then the blank one, then those of errors. */
export function hasValue({ key }: GroupNode): boolean {
  return key !== null && !(key instanceof CellFault)
}

/** Compares two groups of a level by their keys: values, the blank, errors in the order of their codes. */
export function compareGroups(a: Pick<GroupNode, 'key' | 'sortKey'>, b: Pick<GroupNode, 'key' | 'sortKey'>): number {
  return compareCells(a.sortKey, b.sortKey, false) || compareCells(a.key, b.key, false)
}

/** Compares two cells of one type: values, blanks, errors, in both directions. */
export function compareCells(a: Cell, b: Cell, descending: boolean): number {
  const byRank = rankOf(a) - rankOf(b)
  if (byRank !== 0) return byRank
  if (a === null || b === null || a instanceof CellFault || b instanceof CellFault) return 0
  const order = compareScalars(a, b)
  return descending ? -order : order
}

function rankOf(cell: Cell): number {
  if (cell === null) return 1
  return cell instanceof CellFault ? 2 + FAULT_CODES.indexOf(cell.code) : 0
}

type Places = ReturnType<typeof placesOf>

/** The place of a key in the order of order keys; null where there is none. */
export function placeOf(key: Cell, places: Places): Cell {
  return key === null || key instanceof CellFault ? null : (places?.get(key) ?? null)
}

/** All groups, the whole with those inside it. */
export function treeOf(parts: ViewParts): GroupNode {
  const make = (level: number, group: number, outer: GroupNode | null, places: Places): GroupNode => {
    const key = parts.rows.keyOf(level, group)
    const size = parts.rows.sizeOf(level, group)
    return { level, group, key, sortKey: placeOf(key, places), size, outer, inner: [], others: [] }
  }
  const whole = make(0, 0, null, null)
  let around = new Map([[0, whole]])
  const { engine, model } = parts.names
  for (const [index, expression] of parts.columns.keys.entries()) {
    const level = index + 1
    const given = columnGiven(model, expression)
    const places = given === undefined ? null : placesOf(engine, given)
    const found = new Map<number, GroupNode>()
    for (const group of parts.rows.groupsOf(level)) {
      const outer = around.get(parts.rows.outerOf(level, group)) as GroupNode
      const node = make(level, group, outer, places)
      outer.inner.push(node)
      found.set(group, node)
    }
    around = found
  }
  return whole
}
