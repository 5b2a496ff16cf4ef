import type { ColumnFacts, RowsToShow, WindowRow } from '@mellow-abacus/session'
import type { DeskBook } from '../book/desk-book'
import { blockHtml, blockText, pasteOperations } from './blocks'
import type { Range } from './ranges'

/** Rows that can be copied at once. */
const MOST_COPIED = 10_000

/** Cells that are copied or pasted over. */
export interface ClippedCells {
  readonly book: DeskBook
  readonly shown: RowsToShow
  /** Names of the columns whose cells are in hand. */
  readonly had: readonly string[]
  readonly range: Range
  /** Rows that are in hand. */
  readonly rows: readonly WindowRow[]
  /** The columns copied, or those from the first one that is pasted over. */
  readonly columns: readonly ColumnFacts[]
}

/** Copies cells as a block that other programs take as well: text with tabs, and HTML. */
export async function copyCells(clipboard: DataTransfer, clipped: ClippedCells): Promise<void> {
  const { book, shown, had, range, rows, columns } = clipped
  const many = range.bottom - range.top + 1
  if (many > MOST_COPIED) {
    const most = MOST_COPIED.toLocaleString('en')
    return book.say('refused', `At most ${most} rows are copied at once. Export the table to have all.`)
  }
  const wanted = columns.map(({ name }) => name)
  const own = rows.filter(({ place }) => place >= range.top && place <= range.bottom).map((row) => row.cells)
  // The clipboard is only open while the event is handled, so what is in hand is copied at once.
  if (own.length === many && wanted.every((name) => had.includes(name))) {
    clipboard.setData('text/plain', blockText(own, wanted))
    clipboard.setData('text/html', blockHtml(own, wanted))
  } else {
    const window = await book.session.watch({ ...shown, columns: wanted, from: range.top, to: range.bottom + 1 })
    const cells = window.current.rows.map((row) => row.cells)
    window()
    await navigator.clipboard.writeText(blockText(cells, wanted))
  }
  book.say('done', `${many.toLocaleString('en')} × ${wanted.length} cells copied`)
}

/** Pastes a block over the cells from the first of a range on. */
export async function pasteCells(clipboard: DataTransfer, { book, shown, range, rows, columns }: ClippedCells): Promise<void> {
  const text = clipboard.getData('text/plain')
  const { default: papa } = await import('papaparse')
  const block = papa
    .parse<string[]>(text, { delimiter: '\t' })
    .data.filter((line, place, all) => place < all.length - 1 || line.join('') !== '')
  const [first] = block
  if (first === undefined) return
  const ids = rows.filter(({ place }) => place >= range.top && place < range.top + block.length).map(({ id }) => id)
  try {
    await book.apply(
      pasteOperations(shown.table, block, columns, ids, book.may.define),
      `${block.length} × ${first.length} cells pasted`,
    )
  } catch (error) {
    book.say('refused', (error as Error).message)
  }
}
