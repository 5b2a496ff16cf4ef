import type { WindowRow } from '@mellow-abacus/session'
import type { DeskBook } from '../book/desk-book'
import { countedOf } from '../look/cell-text'

/** Puts rows in, elsewhere, and away, as far as their order on the page is that of their table. */
export function rowWork({
  book,
  table,
  isSorted,
  rows,
  all,
  top,
  bottom,
  go,
}: {
  readonly book: DeskBook
  readonly table: string
  /** True where rows stand in another order than that of their table. */
  readonly isSorted: boolean
  /** The rows in hand, of how many there are. */
  readonly rows: readonly WindowRow[]
  readonly all: number
  /** Places of the first and the last row that are picked. */
  readonly top: number
  readonly bottom: number
  /** Goes to the row at a place, so that so many rows from it are picked. */
  readonly go: (place: number, count: number) => void
}): { insert(isAbove: boolean): void; move(isUp: boolean): void; moveTo(place: number): void; remove(): void } {
  const at = (place: number): WindowRow | undefined => rows.find((row) => row.place === place)
  const picked = rows.filter(({ place }) => place >= top && place <= bottom)
  const ids = picked.map(({ id }) => id)
  const count = bottom - top + 1
  const named = count === 1 ? `Row ${top}` : `Rows ${top} to ${bottom}`
  const isWhole = picked.length === count && (bottom >= all || at(Math.min(all, bottom + 2)) !== undefined)
  const refuseSorted = (): boolean => {
    if (isSorted)
      book.say('refused', 'Rows are shown in another order than they stand. Choose "As rows stand" in a heading first.')
    return isSorted
  }
  const refusePart = (): boolean => {
    if (!isWhole) book.say('refused', 'These are more rows than can be handled at once here. Pick fewer of them.')
    return !isWhole
  }
  return {
    insert: async (isAbove) => {
      if (refuseSorted()) return
      const before = at(isAbove ? top : bottom + 1)?.id
      const operation = { op: 'insert-rows', table, count: 1, ...(before !== undefined && { before }) } as const
      const place = isAbove ? top : bottom + 1
      if (await book.apply(operation, `A row put in at ${place}`)) go(place, 1)
    },
    move: async (isUp) => {
      if (refuseSorted() || refusePart()) return
      if (at(isUp ? top - 1 : bottom + 1) === undefined) return
      const before = at(isUp ? top - 1 : bottom + 2)?.id
      const operation = { op: 'move-rows', table, rows: ids, ...(before !== undefined && { before }) } as const
      if (await book.apply(operation, `${named} moved ${isUp ? 'up' : 'down'}`)) go(isUp ? top - 1 : top + 1, count)
    },
    moveTo: async (place) => {
      if (place >= top && place <= bottom + 1) return
      if (refuseSorted() || refusePart()) return
      const before = at(place)?.id
      if (before === undefined && place <= all) return
      const operation = { op: 'move-rows', table, rows: ids, ...(before !== undefined && { before }) } as const
      const first = place > bottom ? place - count : place
      if (await book.apply(operation, `${named} moved to ${first}`)) go(first, count)
    },
    remove: () => {
      if (refusePart()) return
      void book.apply(
        { op: 'remove-rows', table, rows: ids },
        count === 1 ? `${named} removed` : `${countedOf(count, 'row')} removed`,
      )
    },
  }
}
