import { DataType, type Field, RecordBatchReader, type Vector } from 'apache-arrow'
import { MS_PER_DAY } from 'mellow-abacus/storage'
import { lookAtFile } from '../platform/node.js'
import { allBytes } from './all-bytes.js'
import type { ByteChunks } from './decoded-text.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'
import { type FileTable, TableReader } from './table-reader.js'
import { noteLosses, TypedColumn, type TypedKind } from './typed-cells.js'

/** Rows without a single bit of their own that are taken at their word. */
const MOST_EMPTY_ROWS = 1 << 20

/** Memory of objects that a look at the batches may take; their cells are not looked at. */
const MOST_MEGABYTES = 512

/**
 * Reads Arrow IPC, the file or the stream format, batch by batch.
 *
 * @throws ReadFault for bytes that are not Arrow
 */
export async function readArrow(chunks: ByteChunks, options: ReadingOptions): Promise<FileTable> {
  const bytes = await allBytes(chunks, options.onProgress)
  const table = new TableReader(options)
  let columns: { readonly column: TypedColumn; readonly read: (vector: Vector, row: number) => unknown }[] | null = null
  let rowCount = 0
  try {
    await lookAtFile('arrow', bytes, MOST_MEGABYTES)
    const reader = RecordBatchReader.from(bytes).open()
    for (const batch of reader) {
      columns ??= columnsOf(table, batch.schema.fields)
      if (batch.numRows > Math.max(MOST_EMPTY_ROWS, bytes.byteLength * 8))
        throw new Error(`${bytes.byteLength} bytes cannot hold ${batch.numRows} rows`)
      for (const [place, { column, read }] of columns.entries()) {
        const vector = batch.getChildAt(place) as Vector
        for (let row = 0; row < batch.numRows; row++) column.push(vector.isValid(row) ? read(vector, row) : null)
      }
      rowCount += batch.numRows
    }
    columns ??= columnsOf(table, reader.schema.fields)
  } catch (error) {
    if (error instanceof ReadFault) throw error
    throw new ReadFault(`this is not a whole Arrow IPC file: ${(error as Error).message.replace(/\.$/, '')}.`)
  }
  const all = columns.map(({ column }) => column)
  noteLosses(table, all)
  return table.finish(rowCount)
}

function columnsOf(
  table: TableReader,
  fields: readonly Field[],
): { column: TypedColumn; read: (vector: Vector, row: number) => unknown }[] {
  return fields.map(({ name, type }, place) => ({
    column: new TypedColumn(table, name === '' ? `column_${place + 1}` : name, kindOf(type)),
    read: readerOf(type),
  }))
}

function kindOf(type: DataType): TypedKind {
  if (DataType.isDictionary(type)) return kindOf(type.dictionary)
  if (DataType.isNull(type)) return 'none'
  if (DataType.isInt(type)) return 'integer'
  if (DataType.isFloat(type)) return 'number'
  if (DataType.isBool(type)) return 'boolean'
  if (DataType.isUtf8(type) || DataType.isLargeUtf8(type) || DataType.isUtf8View(type)) return 'text'
  if (DataType.isDecimal(type)) return 'decimal'
  if (DataType.isDate(type)) return 'date'
  if (DataType.isTimestamp(type)) return type.timezone ? 'instant' : 'datetime'
  return 'json'
}

/** How a cell is read; the vector itself gives time stamps in milliseconds, whatever their unit. */
function readerOf(type: DataType): (vector: Vector, row: number) => unknown {
  if (DataType.isDate(type)) return (vector, row) => Math.floor(Number(vector.get(row)) / MS_PER_DAY)
  if (DataType.isDecimal(type)) return (vector, row) => pointed(String(vector.get(row)), type.scale)
  return (vector, row) => vector.get(row)
}

/** A whole number as text with the point put in so many digits before its end. */
function pointed(digits: string, scale: number): string {
  if (scale <= 0) return digits + '0'.repeat(-scale)
  const sign = digits.startsWith('-') ? '-' : ''
  const padded = digits.slice(sign.length).padStart(scale + 1, '0')
  const fraction = padded.slice(-scale).replace(/0+$/, '')
  return `${sign}${padded.slice(0, -scale)}${fraction === '' ? '' : `.${fraction}`}`
}
