import { CellFault, type ShownValue, type SlimView } from 'mellow-abacus'
import { useFollowed } from './follow.js'

/** A cell of a workbook. */
export interface CellPlace {
  readonly table: string
  /** The id of its row. */
  readonly row: number
  readonly column: string
}

/**
 * The value of a cell as it is; undefined while there is no such row.
 *
 * @throws Refusal for a table or column that there is not
 */
export function useCell(book: SlimView, { table, row, column }: CellPlace): ShownValue | undefined {
  return useFollowed<{ readonly value: ShownValue | undefined }>(book, JSON.stringify([table, row, column]), (before) => {
    const value = book.table(table).column(column).value(row)
    return before !== null && isSame(before.value, value) ? before : { value }
  }).value
}

function isSame(one: ShownValue | undefined, other: ShownValue | undefined): boolean {
  if (one instanceof CellFault && other instanceof CellFault) return one.code === other.code && one.text === other.text
  return Object.is(one, other)
}
