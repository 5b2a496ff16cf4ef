import type { KeptRevision, Workbook } from 'mellow-abacus'
import { unwritable } from './book-file-fault.js'
import { textOfOperations } from './carried-operations.js'
import { numberBytes } from './chunk-bytes.js'
import { checksumOf, columnOwner, marksOwner, orderOwner } from './parts.js'
import type { OpenedFile } from './read-book.js'

/** Writes a revision into the journal. */
export function keepRevision(
  { path, rows, journal, payloads }: OpenedFile,
  { kind, change, of }: KeptRevision,
): { characters: number; isBulk: boolean } {
  const forth = textOfOperations(change.operations)
  const back = textOfOperations(change.inverse)
  const summary = JSON.stringify(change.recalculated.map(({ table, column, rows }) => [table, column, rows]))
  const { revision, at, author } = change
  const row = { revision, kind, at: at ?? '', author: author ?? '', summary, of: of ?? null }
  const add = (): void => journal.add({ ...row, operations: forth.text, inverse: back.text })
  const isBulk = forth.payloads.length + back.payloads.length > 0
  try {
    // One row is written as a whole by itself.
    if (!isBulk) rows.alone(add)
    else
      rows.together(() => {
        add()
        payloads.add(revision, 'operations', forth.payloads)
        payloads.add(revision, 'inverse', back.payloads)
      })
  } catch (error) {
    throw unwritable(path, error)
  }
  return { characters: forth.text.length, isBulk: forth.payloads.length > 0 }
}

/** Writes the cells that have changed since they were last written, so that opening has nothing to repeat. */
export function writeSnapshot({ rows, parts }: OpenedFile, workbook: Workbook): void {
  const taken = workbook.snapshot()
  rows.together(() => {
    for (const { column, chunks, side, marks, replacesCells, replacesMarks } of taken.unsaved) {
      if (replacesCells) parts.drop(columnOwner(column))
      if (replacesMarks) parts.drop(marksOwner(column))
      if (replacesCells || chunks.length > 0) parts.writeCells(columnOwner(column), chunks, side)
      for (const [block, bytes] of marks) parts.write(marksOwner(column), block, bytes)
    }
    for (const [table, order] of taken.orders) parts.write(orderOwner(table), 0, numberBytes(order))
    for (const owner of parts.owners()) {
      const column = /^(?:column|marks):(\d+)/.exec(owner)?.[1]
      if (column !== undefined && !taken.columns.has(Number(column))) parts.drop(owner)
    }
    const snapshot = JSON.stringify(taken.snapshot)
    rows.put('snapshot', [1, workbook.revision, snapshot, checksumOf(snapshot)])
  })
  taken.markSaved()
}
