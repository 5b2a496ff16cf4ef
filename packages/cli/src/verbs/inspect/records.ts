import { type CellValue, type Operation, type QueryResult, Workbook } from 'mellow-abacus'

/** Records of a report as rows, so that they are written in every format that rows are. */
export function recordRows(
  columns: readonly { name: string; type: string }[],
  records: readonly Readonly<Record<string, CellValue>>[],
): QueryResult {
  const book = new Workbook()
  const operations: Operation[] = [
    { op: 'add-table', table: 'report', columns: columns as never },
    { op: 'insert-rows', table: 'report', rows: records },
  ]
  book.apply(operations)
  return book.query({ table: 'report' })
}
