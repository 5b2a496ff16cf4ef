import type { SchemaElement } from 'hyparquet'
import { ByteWriter, ParquetWriter } from 'hyparquet-writer'
import type { QueryColumn, QueryResult, ValueType } from 'mellow-abacus'
import { batchesOf } from './batches.js'
import type { ByteSink, WritingOptions } from './formats.js'
import { holdsValue, type Loss, Losses } from './losses.js'

/** Rows of a row group. */
const GROUP_ROWS = 65_536

/** Hands the bytes of each row group on, so that the file is never whole in memory. */
class SinkWriter extends ByteWriter {
  readonly #sink: ByteSink

  constructor(sink: ByteSink) {
    super()
    this.#sink = sink
  }

  async flush(): Promise<void> {
    const bytes = this.getBytes().slice()
    this.index = 0
    await this.#sink(bytes)
  }

  override async finish(): Promise<void> {
    await this.flush()
  }
}

/**
 * Writes Parquet: numbers as DOUBLE, whole-number columns as INT64, dates as DATE, date-times as TIMESTAMP in milliseconds
 * without a zone, texts as STRING. Errors and misfits become nulls.
 */
export async function writeParquet(result: QueryResult, sink: ByteSink, options: WritingOptions = {}): Promise<readonly Loss[]> {
  const losses = new Losses()
  const { columns, slots } = result
  const schema: SchemaElement[] = [{ name: 'root', num_children: columns.length }, ...columns.map(elementOf)]
  const writer = new ParquetWriter({ writer: new SinkWriter(sink), schema, createdBy: 'mellow-abacus' })
  for await (const rows of batchesOf(slots, GROUP_ROWS, options)) {
    const columnData = columns.map((column) => ({ name: column.name, data: cellsOf(column, rows, losses) }))
    await writer.write({ columnData, rowGroupSize: GROUP_ROWS })
  }
  await writer.finish()
  return losses.list()
}

function elementOf({ name, type }: QueryColumn): SchemaElement {
  return { name, repetition_type: 'OPTIONAL', ...physical(type) }
}

function physical(type: ValueType | null): Omit<SchemaElement, 'name'> {
  switch (type) {
    case 'number':
      return { type: 'DOUBLE' }
    case 'integer':
      return { type: 'INT64' }
    case 'boolean':
      return { type: 'BOOLEAN' }
    case 'date':
      return { type: 'INT32', converted_type: 'DATE', logical_type: { type: 'DATE' } }
    case 'datetime':
      return { type: 'INT64', logical_type: { type: 'TIMESTAMP', isAdjustedToUTC: false, unit: 'MILLIS' } }
    default:
      return { type: 'BYTE_ARRAY', converted_type: 'UTF8', logical_type: { type: 'STRING' } }
  }
}

function cellsOf(column: QueryColumn, slots: Int32Array, losses: Losses): unknown[] {
  const { type, storage } = column
  return Array.from(slots, (slot) => {
    if (!holdsValue(column, slot, losses)) return null
    const value = storage?.valueAt(slot)
    if (type === 'boolean') return value === 1
    return type === 'integer' || type === 'datetime' ? BigInt(value as number) : value
  })
}
