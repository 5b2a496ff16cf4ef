import {
  Bool,
  type Data,
  type DataType,
  DateDay,
  Field,
  Float64,
  Int64,
  makeData,
  Null,
  RecordBatch,
  RecordBatchFileWriter,
  Schema,
  Struct,
  TimestampMillisecond,
  Utf8,
} from 'apache-arrow'
import type { QueryColumn, QueryResult, ValueType } from 'mellow-abacus'
import { batchesOf } from './batches.js'
import type { ByteSink, WritingOptions } from './formats.js'
import { holdsValue, type Loss, Losses } from './losses.js'

/** Rows of a record batch. */
const BATCH_ROWS = 65_536
const encoder = new TextEncoder()

/**
 * Writes an Arrow IPC file: numbers as Float64, whole-number columns as Int64, dates as days, date-times as milliseconds
 * without a zone, texts as Utf8; a column without a type is of the type Null. Errors and misfits become nulls.
 */
export async function writeArrow(result: QueryResult, sink: ByteSink, options: WritingOptions = {}): Promise<readonly Loss[]> {
  const losses = new Losses()
  const { columns, slots } = result
  const fields = columns.map((column) => new Field(column.name, arrowType(column.type), true))
  const schema = new Schema(fields)
  const writer = new RecordBatchFileWriter()
  writer.reset(undefined, schema)
  const pump = (async () => {
    for await (const bytes of writer) await sink(bytes)
  })()
  for await (const rows of batchesOf(slots, BATCH_ROWS, options)) {
    const children = columns.map((column, place) => columnData(column, (fields[place] as Field).type, rows, losses))
    writer.write(new RecordBatch(schema, makeData({ type: new Struct(fields), length: rows.length, nullCount: 0, children })))
  }
  writer.finish()
  await pump
  return losses.list()
}

function arrowType(type: ValueType | null): DataType {
  switch (type) {
    case 'number':
      return new Float64()
    case 'integer':
      return new Int64()
    case 'text':
      return new Utf8()
    case 'boolean':
      return new Bool()
    case 'date':
      return new DateDay()
    case 'datetime':
      return new TimestampMillisecond()
    default:
      return new Null()
  }
}

function columnData(column: QueryColumn, type: DataType, slots: Int32Array, losses: Losses): Data {
  const { length } = slots
  if (column.storage === undefined || column.type === null) return makeData({ type: new Null(), length }) as Data
  const nullBitmap = new Uint8Array((length + 7) >> 3)
  let nullCount = 0
  const put = putter(column.type, length)
  for (let row = 0; row < length; row++) {
    const slot = slots[row] as number
    if (holdsValue(column, slot, losses)) {
      nullBitmap[row >> 3] = (nullBitmap[row >> 3] as number) | (1 << (row & 7))
      put.value(row, column.storage.valueAt(slot) as never)
    } else nullCount++
  }
  return makeData({ type, length, nullCount, nullBitmap, ...put.data() } as never)
}

/** Collects the values of a batch as the buffers of its type. */
function putter(type: ValueType, length: number): { value: (row: number, value: never) => void; data: () => object } {
  if (type === 'text') {
    const texts = new Array<string>(length).fill('')
    return { value: (row, text) => (texts[row] = text), data: () => textBuffers(texts) }
  }
  if (type === 'boolean') {
    const data = new Uint8Array((length + 7) >> 3)
    const value = (row: number, bit: number): void => {
      data[row >> 3] = (data[row >> 3] as number) | (bit << (row & 7))
    }
    return { value, data: () => ({ data }) }
  }
  if (type === 'integer' || type === 'datetime') {
    const data = new BigInt64Array(length)
    return { value: (row, whole: number) => (data[row] = BigInt(whole)), data: () => ({ data }) }
  }
  const data = type === 'date' ? new Int32Array(length) : new Float64Array(length)
  return { value: (row, number) => (data[row] = number), data: () => ({ data }) }
}

function textBuffers(texts: readonly string[]): { valueOffsets: Int32Array; data: Uint8Array } {
  const parts = texts.map((text) => encoder.encode(text))
  const valueOffsets = new Int32Array(texts.length + 1)
  let at = 0
  for (const [row, part] of parts.entries()) {
    at += part.byteLength
    valueOffsets[row + 1] = at
  }
  const data = new Uint8Array(at)
  for (const [row, part] of parts.entries()) data.set(part, valueOffsets[row])
  return { valueOffsets, data }
}
