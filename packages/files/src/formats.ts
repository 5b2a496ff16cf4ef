/**
 * Readers and writers of open formats, and bundles; nothing that only Node has. In come bytes, out go columns in storage with
 * notes about the file; and the other way round, rows found by a query to bytes. Start reading at `reading/read-table.ts` and
 * `writing/write-table.ts`.
 * @module
 */
export { Bundle, type ReadBundle, readBundle, writeBundle } from './bundle/index.js'
export type { ByteChunks } from './reading/decoded-text.js'
export {
  type DeclaredType,
  formatOfName,
  KNOWN_ENDINGS,
  READABLE_FORMATS,
  type ReadableFormat,
  type ReadingOptions,
} from './reading/options.js'
export { type CellReading, readCell } from './reading/read-cell.js'
export { ReadFault } from './reading/read-fault.js'
export { readTable } from './reading/read-table.js'
export { rowsOfFile, tableOperations } from './reading/table-operations.js'
export type { FileColumn, FileTable, ReadRows } from './reading/table-reader.js'
export {
  BINARY_FORMATS,
  type ByteSink,
  DOCUMENT_FORMATS,
  WRITABLE_ENDINGS,
  WRITABLE_FORMATS,
  type WritableFormat,
  type WritingOptions,
  writableFormatOf,
} from './writing/formats.js'
export type { Loss, LossKind } from './writing/losses.js'
export type { NamedResult } from './writing/named-result.js'
export { tableBytes } from './writing/table-bytes.js'
export { WriteFault } from './writing/write-fault.js'
export { writeSheets, writeTable } from './writing/write-table.js'
