import type { QueryResult } from 'mellow-abacus'
import type { ByteSink, WritableFormat } from './formats.js'
import { writeDelimited } from './write-delimited.js'
import { writeJson } from './write-json.js'

/** Writes rows found by a query in an open format, batch by batch. */
export async function writeTable(result: QueryResult, format: WritableFormat, sink: ByteSink): Promise<void> {
  if (format === 'csv') return writeDelimited(result, ',', sink)
  if (format === 'tsv') return writeDelimited(result, '\t', sink)
  return writeJson(result, format, sink)
}
