import type { Engine } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { RowsTable } from '../model/index.js'
import { cellText } from '../model/index.js'

/** Rows with those below them, each behind the row that it is below. */
export interface Outline {
  readonly slots: Int32Array
  /** How deep each stands, from 0. */
  readonly depths: Int32Array
}

/** The columns that rows are below each other by: what a row is found by, and what says which one it is below; null for none. */
export function outlineColumns(table: RowsTable): { readonly key: ColumnId; readonly parent: ColumnId } | null {
  const { parent } = table.properties
  const column = parent === null ? undefined : table.withId(parent)
  if (column === undefined) return null
  // The link that reads parents says which column they are found by; else it is the label.
  const [linked] =
    table.links.find(({ columns, to }) => columns.length === 1 && columns[0] === column && to === table)?.keys ?? []
  const key = linked?.id ?? table.properties.key?.[0] ?? table.properties.label
  return key === null ? null : { key, parent: column.id }
}

/** Slots of no row. */
const NONE = -1

/** The slot of the row that each row is below, by slot, -1 for none; null for a table without a parent column. */
export function parentsOf(engine: Engine, table: RowsTable): Int32Array | null {
  const by = outlineColumns(table)
  if (by === null) return null
  const { recalculation } = engine
  const [own, above] = [recalculation.storage(table.store, by.key), recalculation.storage(table.store, by.parent)]
  const { rows } = table.store
  const slots = rows.inOrder()
  const byKey = new Map<string, number>()
  for (const slot of slots) {
    const text = cellText(own, slot)
    if (text !== '' && !byKey.has(text)) byKey.set(text, slot)
  }
  const parents = new Int32Array(rows.slotCount).fill(NONE)
  for (const slot of slots) parents[slot] = byKey.get(cellText(above, slot)) ?? NONE
  return parents
}

/**
 * Rows that are below themselves, over one or more others.
 *
 * @param parents - as `parentsOf` gives them
 */
export function rowsInLoops(slots: Int32Array, parents: Int32Array): number[] {
  // The round in which a row was come by: a row met again in the same round is below itself.
  const rounds = new Int32Array(parents.length)
  const looped: number[] = []
  let round = 0
  for (const start of slots) {
    round++
    let at = start
    while (at !== NONE && rounds[at] === 0) {
      rounds[at] = round
      at = parents[at] as number
    }
    if (at === NONE || rounds[at] !== round) continue
    const first = at
    do {
      looped.push(at)
      at = parents[at] as number
    } while (at !== first)
  }
  return looped
}

/**
 * Puts rows below their parents, siblings in the order they come in; one whose parent is not among them stands outermost, and so
 * does the first of rows that go round.
 *
 * @param parents - as `parentsOf` gives them
 */
export function outlined(slots: Int32Array, parents: Int32Array): Outline {
  const isShown = new Uint8Array(parents.length)
  for (const slot of slots) isShown[slot] = 1
  // Each row has the last row below it, each of these the one before: so the first one is come by last, and is walked first.
  const lastInside = new Int32Array(parents.length).fill(NONE)
  const before = new Int32Array(parents.length).fill(NONE)
  for (const slot of slots) {
    const parent = parents[slot] as number
    if (parent === NONE || isShown[parent] === 0) continue
    before[slot] = lastInside[parent] as number
    lastInside[parent] = slot
  }
  const order = new Int32Array(slots.length)
  const depths = new Int32Array(slots.length)
  const depthOf = new Int32Array(parents.length)
  let count = 0
  const walk = (root: number): void => {
    const open = [root]
    for (let slot = open.pop(); slot !== undefined; slot = open.pop()) {
      if (isShown[slot] === 2) continue
      isShown[slot] = 2
      const depth = depthOf[slot] as number
      order[count] = slot
      depths[count++] = depth
      for (let child = lastInside[slot] as number; child !== NONE; child = before[child] as number) {
        if (isShown[child] === 1) depthOf[child] = depth + 1
        open.push(child)
      }
    }
  }
  for (const slot of slots) {
    const parent = parents[slot] as number
    if (parent === NONE || isShown[parent] === 0) walk(slot)
  }
  for (const slot of slots) if (isShown[slot] === 1) walk(slot)
  return { slots: order, depths }
}
