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

/** The rows given, which must be ascending. */
export function selectRows(rows: Uint16Array): Selection {
  return { rows, count: rows.length }
}
