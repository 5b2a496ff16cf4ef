import type { QueryResult } from 'mellow-abacus'
import { joinBytes } from '../bytes.js'
import type { WritableFormat, WritingOptions } from './formats.js'
import { writeTable } from './write-table.js'

/**
 * Rows found by a query as one piece of bytes in an open format: for what fits into memory twice. Arrow comes as an IPC file,
 * which every Arrow library takes.
 *
 * @throws what `writeTable` throws
 */
export async function tableBytes(
  result: QueryResult,
  format: WritableFormat,
  options: WritingOptions = {},
): Promise<Uint8Array<ArrayBuffer>> {
  const pieces: Uint8Array[] = []
  await writeTable(result, format, (bytes) => void pieces.push(bytes.slice()), options)
  return joinBytes(pieces)
}
