import { BLOCK_SHIFT, type Selection, selectRows } from '../../columns/index.js'
import type { RowsByBlock } from './rows-by-block.js'
import type { TableStore } from './table-store.js'

/** Those of some rows that are there. */
export function liveIn(store: TableStore, rows: RowsByBlock): RowsByBlock {
  if (store.rows.isDense) return rows
  const live = new Map<number, Selection>()
  for (const [block, selection] of rows) {
    const kept = liveOf(store, block, selection)
    if (kept.count > 0) live.set(block, kept)
  }
  return live
}

/** Those of some rows of one block that are there. */
export function liveOf(store: TableStore, block: number, selection: Selection): Selection {
  const { rows, count } = selection
  if (store.rows.isDenseIn(block) && (rows === null || count > 0)) {
    const { slotCount } = store.rows
    const last = (block << BLOCK_SHIFT) + (rows === null ? count : (rows[count - 1] as number) + 1)
    if (last <= slotCount) return selection
  }
  const kept = new Uint16Array(count)
  let found = 0
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    if (store.rows.isLive((block << BLOCK_SHIFT) + row)) kept[found++] = row
  }
  return selectRows(kept.subarray(0, found))
}

/** All rows of a table that are there. */
export function everyRowOf(store: TableStore): Map<number, Selection> {
  const rows = new Map<number, Selection>()
  for (let block = 0; block < store.blockCount; block++) {
    const live = store.liveRows(block)
    if (live.count > 0) rows.set(block, live)
  }
  return rows
}
