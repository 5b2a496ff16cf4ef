import { BLOCK_ROWS } from './vectors.js'

/**
 * Rows of one block that a kernel has to compute: rows[0..count), ascending; `null` stands for 0..count, the whole block.
 */
export interface Selection {
  readonly rows: Uint16Array | null
  readonly count: number
}

/** The first `count` rows of a block. */
export function wholeBlock(count: number): Selection {
  return { rows: null, count }
}

/** True for every row of a block that is full: the block loops take no others. */
export function isFullBlock({ rows, count }: Selection): boolean {
  return rows === null && count === BLOCK_ROWS
}

/** The rows of a block whose flag is 1. */
export function rowsMarked(flags: Uint8Array): Selection {
  const rows = new Uint16Array(flags.length)
  let count = 0
  for (let row = 0; row < flags.length; row++) {
    // Listed always and counted only where marked, so the loop does not branch.
    rows[count] = row
    count += flags[row] as number
  }
  return { rows: rows.slice(0, count), count }
}

/** The rows given, which must be ascending. */
export function selectRows(rows: Uint16Array): Selection {
  return { rows, count: rows.length }
}
