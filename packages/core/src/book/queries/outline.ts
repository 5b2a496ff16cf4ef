import type { Engine } from '../../engine/index.js'
import type { RowsTable } from '../model/index.js'
import { cellText } from '../model/index.js'

/** Rows with those below them, each behind the row that it is below. */
export interface Outline {
  readonly slots: Int32Array
  /** How deep each stands, from 0. */
  readonly depths: Int32Array
}

/** The row that each row is below, by slot; null for a table without a parent column. */
export function parentsOf(engine: Engine, table: RowsTable): ReadonlyMap<number, number> | null {
  const parent = table.properties.parent
  const column = parent === null ? undefined : table.withId(parent)
  if (column === undefined) return null
  // The link that reads parents says which column they are found by; else it is the label.
  const [key] = table.links.find(({ columns, to }) => columns.length === 1 && columns[0] === column && to === table)?.keys ?? []
  const keyId = key?.id ?? table.properties.key?.[0] ?? table.properties.label
  if (keyId === null) return null
  const { recalculation } = engine
  const [own, above] = [recalculation.storage(table.store, keyId), recalculation.storage(table.store, column.id)]
  const slots = table.store.rows.inOrder()
  const byKey = new Map<string, number>()
  for (const slot of slots) {
    const text = cellText(own, slot)
    if (text !== '' && !byKey.has(text)) byKey.set(text, slot)
  }
  const parents = new Map<number, number>()
  for (const slot of slots) {
    const found = byKey.get(cellText(above, slot))
    if (found !== undefined) parents.set(slot, found)
  }
  return parents
}

/** Rows that are below themselves, over one or more others. */
export function rowsInLoops(parents: ReadonlyMap<number, number>): number[] {
  const state = new Map<number, 'open' | 'done'>()
  const looped: number[] = []
  for (const start of parents.keys()) {
    const path: number[] = []
    let at: number | undefined = start
    while (at !== undefined && !state.has(at)) {
      state.set(at, 'open')
      path.push(at)
      at = parents.get(at)
    }
    if (at !== undefined && state.get(at) === 'open') looped.push(...path.slice(path.indexOf(at)))
    for (const slot of path) state.set(slot, 'done')
  }
  return looped
}

/**
 * Puts rows below their parents, siblings in the order they come in; one whose parent is not among them stands outermost, and so
 * does the first of rows that go round.
 */
export function outlined(slots: Int32Array, parents: ReadonlyMap<number, number>): Outline {
  const isShown = new Set(slots)
  const inside = new Map<number, number[]>()
  const roots: number[] = []
  for (const slot of slots) {
    const parent = parents.get(slot)
    if (parent === undefined || !isShown.has(parent)) roots.push(slot)
    else inside.set(parent, [...(inside.get(parent) ?? []), slot])
  }
  const order: number[] = []
  const depths: number[] = []
  const seen = new Set<number>()
  const walk = (root: number): void => {
    const open = [{ slot: root, depth: 0 }]
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const { slot, depth } = next
      if (seen.has(slot)) continue
      seen.add(slot)
      order.push(slot)
      depths.push(depth)
      for (const child of (inside.get(slot) ?? []).toReversed()) open.push({ slot: child, depth: depth + 1 })
    }
  }
  for (const root of roots) walk(root)
  for (const slot of slots) if (!seen.has(slot)) walk(slot)
  return { slots: Int32Array.from(order), depths: Int32Array.from(depths) }
}
