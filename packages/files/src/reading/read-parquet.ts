import { type FileMetaData, parquetMetadata, parquetRead, parquetSchema, type SchemaElement } from 'hyparquet'
import { compressors } from 'hyparquet-compressors'
import { lookAtFile } from '../platform/node.js'
import { allBytes } from './all-bytes.js'
import type { ByteChunks } from './decoded-text.js'
import type { ReadingOptions } from './options.js'
import { ReadFault } from './read-fault.js'
import { type FileTable, TableReader } from './table-reader.js'
import { noteLosses, TypedColumn, type TypedKind } from './typed-cells.js'

/** Memory of objects that one row group may take. */
const MOST_MEGABYTES = 2048

/**
 * Reads Parquet, row group by row group.
 *
 * @throws ReadFault for bytes that are not a whole Parquet file
 */
export async function readParquet(chunks: ByteChunks, options: ReadingOptions): Promise<FileTable> {
  const bytes = await allBytes(chunks, options.onProgress)
  const buffer = bytes.buffer as ArrayBuffer
  const table = new TableReader(options)
  try {
    await lookAtFile('parquet', bytes, MOST_MEGABYTES)
    const metadata = parquetMetadata(buffer)
    const columns = new Map(
      parquetSchema(metadata).children.map(({ element, children }) => {
        const kind = children.length > 0 || element.repetition_type === 'REPEATED' ? 'json' : kindOf(element)
        return [element.name, new TypedColumn(table, element.name, kind)]
      }),
    )
    let rowStart = 0
    for (const { num_rows } of metadata.row_groups) {
      const rowEnd = rowStart + Number(num_rows)
      await readGroup(buffer, metadata, rowStart, rowEnd, columns)
      rowStart = rowEnd
    }
    noteLosses(table, [...columns.values()])
    return table.finish(rowStart)
  } catch (error) {
    if (error instanceof ReadFault) throw error
    throw new ReadFault(`this is not a whole Parquet file: ${(error as Error).message.replace(/\.$/, '')}.`)
  }
}

async function readGroup(
  buffer: ArrayBuffer,
  metadata: FileMetaData,
  rowStart: number,
  rowEnd: number,
  columns: ReadonlyMap<string, TypedColumn>,
): Promise<void> {
  const pieces = new Map<string, { from: number; data: ArrayLike<unknown> }[]>()
  await parquetRead({
    file: { byteLength: buffer.byteLength, slice: (from, to) => buffer.slice(from, to) },
    metadata,
    rowStart,
    rowEnd,
    compressors,
    parsers: PARSERS,
    onChunk: ({ columnName, columnData, rowStart: from }) => {
      const known = pieces.get(columnName)
      if (known === undefined) pieces.set(columnName, [{ from, data: columnData }])
      else known.push({ from, data: columnData })
    },
  })
  for (const [name, column] of columns) {
    const own = (pieces.get(name) ?? []).sort((a, b) => a.from - b.from)
    let row = rowStart
    for (const { data } of own) for (let at = 0; at < data.length; at++, row++) column.push(data[at])
    if (row !== rowEnd) throw new Error(`the column ${name} has ${row - rowStart} of ${rowEnd - rowStart} cells`)
  }
}

/** Days and milliseconds as numbers, where the package would make objects. */
const PARSERS = {
  dateFromDays: (days: number): number => days,
  timestampFromMilliseconds: (time: bigint): number => Number(time),
  timestampFromMicroseconds: (time: bigint): number => Number(time) / 1e3,
  timestampFromNanoseconds: (time: bigint): number => Number(time) / 1e6,
}

function kindOf({ type, converted_type, logical_type }: SchemaElement): TypedKind {
  const logical = logical_type?.type
  if (logical === 'DATE' || converted_type === 'DATE') return 'date'
  if (logical_type?.type === 'TIMESTAMP') return logical_type.isAdjustedToUTC ? 'instant' : 'datetime'
  if (converted_type === 'TIMESTAMP_MILLIS' || converted_type === 'TIMESTAMP_MICROS') return 'instant'
  if (type === 'INT96') return 'json'
  if (logical === 'STRING' || logical === 'ENUM' || converted_type === 'UTF8' || converted_type === 'ENUM') return 'text'
  if (logical === 'UUID') return 'text'
  if (logical === 'DECIMAL' || converted_type === 'DECIMAL') return 'number'
  if (type === 'BOOLEAN') return 'boolean'
  if (type === 'DOUBLE' || type === 'FLOAT' || logical === 'FLOAT16') return 'number'
  if (type === 'INT32' || type === 'INT64') return converted_type?.startsWith('TIME_') ? 'json' : 'integer'
  return type === 'BYTE_ARRAY' && logical === undefined && converted_type === undefined ? 'text' : 'json'
}
