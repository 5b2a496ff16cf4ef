import { type ByteChunks, decodedText } from './decoded-text.js'
import type { ReadableFormat, ReadingOptions } from './options.js'
import { readDelimited } from './read-delimited.js'
import { readJson } from './read-json.js'
import type { FileTable } from './table-reader.js'

/**
 * Reads a table from bytes as they come in.
 *
 * @param format - what the bytes are
 * @throws ReadFault, with the line or row where it is known.
 */
export async function readTable(chunks: ByteChunks, format: ReadableFormat, options: ReadingOptions = {}): Promise<FileTable> {
  // Packages for the heavier formats are loaded when they are needed.
  if (format === 'arrow') return (await import('./read-arrow.js')).readArrow(chunks, options)
  if (format === 'parquet') return (await import('./read-parquet.js')).readParquet(chunks, options)
  if (format === 'xlsx') return (await import('./xlsx/read-xlsx.js')).readXlsx(chunks, options)
  const text = decodedText(chunks, options.encoding, options.onProgress)
  if (format === 'csv' || format === 'tsv') return readDelimited(text, format, options)
  return readJson(text, format, options)
}
