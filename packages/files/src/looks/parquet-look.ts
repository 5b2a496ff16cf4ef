import { parquetMetadata, parquetRead } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'
import type { Look } from './look.js'

/** Most bytes, and rows, that a file may unfold to, as a multiple of its own size and at least; a page can say anything. */
const MOST_TIMES = 1000
const LEAST_BYTES = 2 ** 28
const LEAST_ROWS = 2 ** 22

/** Reads every row group once and keeps nothing, in at most a microsecond a cell and five seconds; a sound file takes a tenth of that. */
export const parquetLook: Look = async ({ buffer, byteOffset, byteLength }, within) => {
  within(5000)
  const bytes = buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer
  const metadata = parquetMetadata(bytes)
  const sum = (numberOf: (group: (typeof metadata.row_groups)[number]) => bigint): number =>
    metadata.row_groups.reduce((total, group) => total + Number(numberOf(group)), 0)
  refuseMore(
    sum((group) => group.total_byte_size),
    '',
    Math.max(LEAST_BYTES, byteLength * MOST_TIMES),
    byteLength,
  )
  refuseMore(
    sum((group) => group.num_rows),
    ' rows',
    Math.max(LEAST_ROWS, byteLength * MOST_TIMES),
    byteLength,
  )
  const file = { byteLength, slice: (from: number, to?: number) => bytes.slice(from, to) }
  let rowStart = 0
  for (const { num_rows, columns } of metadata.row_groups) {
    const rowEnd = rowStart + Number(num_rows)
    within(5000 + (rowEnd - rowStart) * columns.length * 0.001)
    await parquetRead({ file, metadata, rowStart, rowEnd, compressors, onChunk: () => undefined })
    rowStart = rowEnd
  }
}

function refuseMore(count: number, what: string, most: number, byteLength: number): void {
  if (count > most)
    throw new Error(`its ${byteLength} bytes would unfold to ${count}${what}, more than ${MOST_TIMES} times as many`)
}
