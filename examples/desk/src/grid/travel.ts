import type { BookSession, RowsToShow } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'

/** Which row of a table is gone to: one by its place or its id, the next one of which a condition is true, or one by its value. */
export type Sought =
  | { readonly place: number }
  | { readonly row: number }
  | { readonly next: string /** What is said where there is none. */; readonly none?: string }
  | { readonly end: 'smallest' | 'largest' }

/** A column to go to, and a row where one is said; where none is, the row stays. */
export interface Travel {
  readonly table: string
  readonly column: string
  readonly to?: Sought
}

/** The place of a row that is sought among those shown; null where it is not among them. */
export async function placeOf(
  session: BookSession,
  shown: RowsToShow,
  { column, to, behind }: { readonly column: string; readonly to: Sought; readonly behind: number },
): Promise<number | null> {
  if ('place' in to) return to.place
  const placed = async (sought: Parameters<BookSession['seek']>[0]['sought']): Promise<number | null> =>
    (await session.seek({ ...shown, sought })).found?.place ?? null
  if ('row' in to) return placed({ row: to.row })
  if ('next' in to) return placed({ where: to.next, behind })
  const name = printName(column)
  const known = `not (${name} is error) and not (${name} is blank)`
  const { rows } = await session.query({
    table: shown.table,
    where: shown.where === undefined ? known : `(${shown.where}) and ${known}`,
    order: [{ column, descending: to.end === 'largest' }],
    columns: [],
    limit: 1,
  })
  return rows[0] === undefined ? null : placed({ row: rows[0].id })
}

/** The next row without a value in a column. */
export const nextBlank = (column: string): Sought => ({
  next: `${printName(column)} is blank`,
  none: `No row shown has a blank ${column}.`,
})

/** The next row with an error in a column. */
export const nextError = (column: string): Sought => ({
  next: `${printName(column)} is error`,
  none: `No row shown has an error in ${column}.`,
})

/** What is said where no row is as it is sought. */
export function notFound(column: string, to: Sought): string {
  if ('next' in to) return to.none ?? `No row shown is as ${to.next} says.`
  return 'end' in to ? `No row shown has a value in ${column}.` : 'That row is not there any more.'
}
