import type { QueryResult } from 'mellow-abacus'
import { BatchBytes } from './batch-bytes.js'
import { batchesOf } from './batches.js'
import { type CellWording, cellWriter } from './cell-writer.js'
import { BATCH_ROWS, type ByteSink, type WritingOptions } from './formats.js'

const wording: CellWording = {
  blank: 'null',
  text: (text) => JSON.stringify(text),
  date: (iso) => `"${iso}"`,
  fault: (code) => `{"error":"${code}"}`,
}

/**
 * Writes JSON (one array, an object a line) or NDJSON. Objects are written key by key from the column list, so a column
 * called `2024` keeps its place and `__proto__` is a name like any other.
 */
export async function writeJson(
  result: QueryResult,
  format: 'json' | 'ndjson',
  sink: ByteSink,
  options: WritingOptions = {},
): Promise<void> {
  const { slots, columns } = result
  const out = new BatchBytes()
  const writers = columns.map((column) => cellWriter(column, wording, out))
  const keys = columns.map((column, index) => `${index === 0 ? '{' : ','}${JSON.stringify(column.name)}:`)
  const isArray = format === 'json'
  if (isArray) out.text(slots.length === 0 ? '[' : '[\n')
  let left = slots.length
  for await (const batch of batchesOf(slots, BATCH_ROWS, options)) {
    for (let row = 0; row < batch.length; row++) {
      const slot = batch[row] as number
      if (writers.length === 0) out.text('{')
      for (let index = 0; index < writers.length; index++) {
        out.text(keys[index] as string)
        ;(writers[index] as (slot: number) => void)(slot)
      }
      left--
      out.text(isArray && left > 0 ? '},\n' : '}\n')
    }
    await sink(out.take())
  }
  if (isArray) out.text(']\n')
  await sink(out.take())
}
