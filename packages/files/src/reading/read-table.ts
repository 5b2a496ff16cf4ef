import { type ByteChunks, decodedText } from './decoded-text.js'
import type { ReadableFormat, ReadingOptions } from './options.js'
import { readDelimited } from './read-delimited.js'
import { readJson } from './read-json.js'
import type { FileTable } from './table-reader.js'

/**
 * Reads a table from bytes as they come in.
 *
 * @param format - what the bytes are
 * Errors: `ReadFault`, with the line or row where it is known.
 */
export async function readTable(chunks: ByteChunks, format: ReadableFormat, options: ReadingOptions = {}): Promise<FileTable> {
  const text = decodedText(chunks, options.encoding, options.onProgress)
  if (format === 'csv' || format === 'tsv') return readDelimited(text, format, options)
  return readJson(text, format, options)
}
