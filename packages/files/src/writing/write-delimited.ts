import type { QueryResult } from 'mellow-abacus'
import { BatchBytes } from './batch-bytes.js'
import { batchesOf } from './batches.js'
import { type CellWording, cellWriter } from './cell-writer.js'
import { BATCH_ROWS, type ByteSink, type WritingOptions } from './formats.js'
import { type Loss, Losses } from './losses.js'

const LINE_FEED = 10
/** How a text begins that a program may take for a formula: also behind white space, and in full width. */
const FORMULA_LIKE = /^[\s\p{Cc}]*[=+\-@\uff1d\uff0b\uff0d\uff20]|^[\t\r\n]/u

/**
 * Writes CSV or TSV (RFC 4180, line feeds): blank is an empty field, an empty text `""`, a calculated error `!code`.
 * Its own code, for the reading package's writer takes four times as long (bench: calc) and cannot tell blank from empty text.
 */
export async function writeDelimited(
  result: QueryResult,
  delimiter: ',' | '\t',
  sink: ByteSink,
  options: WritingOptions = {},
): Promise<Loss[]> {
  const { neutralize = false } = options
  const losses = new Losses()
  const needsQuotes = delimiter === ',' ? /[",\r\n]/ : /["\t\r\n]/
  const quoted = (text: string): string => {
    if (text === '') return '""'
    return needsQuotes.test(text) ? `"${text.replaceAll('"', '""')}"` : text
  }
  const safe = (text: string): string => quoted(FORMULA_LIKE.test(text) ? `'${text}` : text)
  const wording: CellWording = { blank: '', text: neutralize ? safe : quoted, date: (iso) => iso, fault: (code) => `!${code}` }
  const out = new BatchBytes()
  const { slots, columns } = result
  const writers = columns.map((column) => cellWriter(column, wording, out))
  const between = delimiter.charCodeAt(0)
  out.text(`${columns.map((column) => wording.text(column.name)).join(delimiter)}\n`)
  for await (const batch of batchesOf(slots, BATCH_ROWS, options)) {
    for (let row = 0; row < batch.length; row++) {
      const slot = batch[row] as number
      for (let index = 0; index < writers.length; index++) {
        if (index > 0) out.sign(between)
        ;(writers[index] as (slot: number) => void)(slot)
      }
      out.sign(LINE_FEED)
    }
    await sink(out.take())
  }
  if (slots.length === 0) await sink(out.take())
  // Errors are texts here, and are texts when the file is read again.
  for (const column of columns) if (column.calculated) losses.noteErrors(column, slots)
  return losses.list()
}
