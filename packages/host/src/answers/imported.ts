import { type FileTable, ReadFault, readTable, rowsOfFile } from '@mellow-abacus/files'
import { type ImportedChange, type ImportedRows, SessionFault } from '@mellow-abacus/session'
import type { CellValue, ChangeSet, Operation, WorkbookView } from 'mellow-abacus'
import { Refusal } from 'mellow-abacus'

/** Rows that were read, to be put in from one to another. */
export interface ReadRows {
  readonly count: number
  operation(table: string, from: number, to: number): Operation
}

/**
 * Reads rows in an open format, each column with the type that the table has it in.
 *
 * @throws Refusal for a table that there is not, SessionFault for bytes that are not what they are said to be
 */
export async function readRows(view: WorkbookView, table: string, { format, bytes }: ImportedRows): Promise<ReadRows> {
  const { columns } = view.table(table)
  const types = new Map(columns.flatMap(({ name, type }) => (type === null ? [] : [[name, { type }] as const])))
  let read: FileTable
  try {
    read = await readTable(chunksOf(bytes), format, { formerTypes: types, zone: view.surroundings.zone })
  } catch (error) {
    if (error instanceof ReadFault) throw new SessionFault({ code: 'unreadable', message: error.message }, { cause: error })
    throw error
  }
  const { block, count } = rowsOfFile(read)
  let values: [string, CellValue[]][] | null = null
  return {
    count,
    operation: (name, from, to) => {
      if (from === 0 && to === count) return { op: 'insert-rows', table: name, block, count }
      values ??= Object.entries(block).map(([column, cells]) => [column, cells.toJSON()])
      // A column that some other rows have is none of these.
      const part = values.flatMap(([column, cells]) => {
        const own = cells.slice(from, to)
        return own.some((cell) => cell !== null) ? [[column, own]] : []
      })
      return { op: 'insert-rows', table: name, block: Object.fromEntries(part), count: to - from }
    },
  }
}

async function* chunksOf(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield bytes
}

/**
 * Puts in every row that can be: where some are refused, their halves are tried, down to the single row.
 *
 * @param insert - puts in the rows from one to another, all or none
 */
export function insertEach(
  count: number,
  insert: (from: number, to: number) => ChangeSet,
): { readonly changes: readonly ChangeSet[]; readonly refused: ImportedChange['refused'] } {
  const changes: ChangeSet[] = []
  const refused: ImportedChange['refused'][number][] = []
  const attempt = (from: number, to: number): void => {
    try {
      changes.push(insert(from, to))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      if (to - from === 1) refused.push({ row: from + 1, code: error.code, message: error.message })
      else {
        const middle = (from + to) >> 1
        attempt(from, middle)
        attempt(middle, to)
      }
    }
  }
  if (count > 0) attempt(0, count)
  return { changes, refused }
}

/** What rows are refused with of which none can be put in. */
export function noneOf([first]: ImportedChange['refused']): SessionFault {
  if (first === undefined) return new SessionFault({ code: 'unreadable', message: 'There is no row in it.' })
  const message = `No row could be put in. Row ${first.row}: ${first.message}`
  return new SessionFault({ code: first.code as SessionFault['code'], message })
}
