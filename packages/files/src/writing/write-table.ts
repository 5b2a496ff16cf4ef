import type { QueryResult } from 'mellow-abacus'
import { writeXlsxHere } from '../platform/node.js'
import type { ByteSink, WritableFormat, WritingOptions } from './formats.js'
import type { Loss } from './losses.js'
import type { NamedResult } from './named-result.js'
import { writeDelimited } from './write-delimited.js'
import { writeJson } from './write-json.js'

/**
 * Writes rows found by a query in an open format, batch by batch.
 *
 * @returns what the format could not hold, by column
 * @throws WriteFault for what the format cannot be written for, and the reason of a signal that is aborted
 */
export async function writeTable(
  result: QueryResult,
  format: WritableFormat,
  sink: ByteSink,
  options: WritingOptions = {},
): Promise<readonly Loss[]> {
  // Packages for the heavier formats are loaded when they are needed.
  if (format === 'arrow') return (await import('./write-arrow.js')).writeArrow(result, sink, options)
  if (format === 'parquet') return (await import('./write-parquet.js')).writeParquet(result, sink, options)
  if (format === 'xlsx') return writeXlsxHere([{ name: options.name ?? 'table', result }], sink, options)
  if (format === 'md') return none((await import('./documents/write-markdown.js')).writeMarkdown(result, sink, options))
  if (format === 'html') return none((await import('./documents/write-html.js')).writeHtml(result, sink, options))
  if (format === 'csv') return writeDelimited(result, ',', sink, options)
  if (format === 'tsv') return writeDelimited(result, '\t', sink, options)
  return none(writeJson(result, format, sink, options))
}

/** What holds everything loses nothing. */
async function none(written: Promise<void>): Promise<readonly Loss[]> {
  await written
  return []
}

/**
 * Writes several tables as sheets of one XLSX file.
 *
 * @throws WriteFault for a table larger than a sheet, and the reason of a signal that is aborted
 */
export async function writeSheets(
  tables: readonly NamedResult[],
  sink: ByteSink,
  options: WritingOptions = {},
): Promise<readonly Loss[]> {
  return writeXlsxHere(tables, sink, options)
}
