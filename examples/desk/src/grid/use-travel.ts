import type { RowsToShow } from '@mellow-abacus/session'
import { type RefObject, useEffect, useRef } from 'react'
import type { DeskBook } from '../book/desk-book'
import { notFound, placeOf, type Travel } from './travel'

/** Goes where the page wants to go, each time that is another object, once the column is there. */
export function useTravel(
  travel: Travel | null,
  {
    book,
    shown,
    names,
    behind,
    go,
    showAll,
  }: {
    readonly book: DeskBook
    readonly shown: RowsToShow
    readonly names: readonly string[]
    /** The place of the current row. */
    readonly behind: number
    readonly go: (place: number, column: number) => void
    /** Shows the rows that are folded away, and also those that a condition leaves out. */
    readonly showAll: (isFolded: boolean) => void
  },
): void {
  const travelled: RefObject<Travel | null> = useRef(null)
  useEffect(() => {
    if (travel === null || travel === travelled.current) return
    const column = names.indexOf(travel.column)
    if (column < 0) return
    travelled.current = travel
    const { to } = travel
    if (to === undefined) return go(behind, column)
    const find = async (): Promise<void> => {
      const asked = { column: travel.column, to, behind }
      const place = await placeOf(book.session, shown, asked)
      if (travelled.current !== travel) return
      if (place !== null) return go(place, column)
      const { outline: _, ...unfolded } = shown
      const isFolded = 'outline' in shown && (await placeOf(book.session, unfolded, asked)) !== null
      const isHidden = 'row' in to && (await placeOf(book.session, { table: shown.table }, asked)) !== null
      if (!isFolded && !isHidden) return book.say('refused', notFound(travel.column, to))
      travelled.current = null
      showAll(isFolded)
    }
    find().catch((error: Error) => book.say('refused', error.message))
  })
}
