import type { RowsToShow, SessionValue, TableFacts, WindowRow } from '@mellow-abacus/session'
import type { CellValue, Operation } from 'mellow-abacus'
import type { DeskBook } from '../book/desk-book'

/** The columns that rows are below each other by: what a row is found by, and what says which one it is below; null for none. */
function outlineColumns({
  name,
  links,
  label,
  key,
  parent,
}: TableFacts): { readonly key: string; readonly parent: string } | null {
  if (parent === null) return null
  const link = links.find(({ columns, to }) => columns.length === 1 && columns[0] === parent && to === name)
  const found = link?.keys[0] ?? key?.[0] ?? label
  return found == null ? null : { key: found, parent }
}

/** Puts rows in and elsewhere in an outline: among those below the same row, below another one, or further out. */
export function outlineWork({
  book,
  table,
  shown,
  rows,
  at,
  go,
  unfold,
}: {
  readonly book: DeskBook
  readonly table: TableFacts
  readonly shown: RowsToShow
  /** The rows in hand. */
  readonly rows: readonly WindowRow[]
  /** The place of the current row. */
  readonly at: number
  go(place: number): void
  unfold(row: WindowRow): void
}): { insert(isAbove: boolean): void; move(isUp: boolean): void; putBelow(isFurtherIn: boolean): boolean } {
  const columns = outlineColumns(table)
  const row = rows.find(({ place }) => place === at)
  const depthOf = (one: WindowRow): number => one.stand?.depth ?? 0
  const depth = row === undefined ? 0 : depthOf(row)
  const after = rows.filter(({ place }) => place > at)
  // What is below the current row ends with the first one that is not deeper.
  const next = after.find((one) => depthOf(one) <= depth)
  const nextSibling = next !== undefined && depthOf(next) === depth ? next : undefined
  const above = rows.findLast((one) => one.place < at && depthOf(one) <= depth)
  const siblingAbove = above !== undefined && depthOf(above) === depth ? above : undefined
  const outer = rows.findLast((one) => one.place < at && depthOf(one) < depth)
  const cell = async (of: WindowRow, column: string): Promise<SessionValue> =>
    (await book.session.row(table.name, of.id))?.cells[column] ?? null
  const goToRow = async ({ id }: WindowRow): Promise<void> => {
    const { found } = await book.session.seek({ ...shown, sought: { row: id } })
    if (found !== null) go(found.place)
  }
  const apply = (operation: object, done: string): Promise<boolean> => book.apply(operation as Operation, done)
  const insert = async (isAbove: boolean): Promise<void> => {
    if (row === undefined || columns === null) return
    const parent = await cell(row, columns.parent)
    const before = isAbove ? row.id : nextSibling?.id
    const fresh = { op: 'insert-rows', table: table.name, rows: [{ [columns.parent]: parent }] }
    const place = isAbove ? at : (next?.place ?? at + after.length + 1)
    if (await apply({ ...fresh, ...(before !== undefined && { before }) }, `A row put in at ${place}`)) go(place)
  }
  const move = async (isUp: boolean): Promise<void> => {
    if (row === undefined) return
    if (shown.order !== undefined)
      return book.say('refused', 'Rows are shown in another order than they stand. Choose "As rows stand" in a heading first.')
    const passed = isUp ? siblingAbove : nextSibling
    if (passed === undefined) return
    // Among other rows of the table they may stand far apart: the lower one is put before the upper one.
    const [upper, lower] = isUp ? [passed, row] : [row, passed]
    const moved = { op: 'move-rows', table: table.name, rows: [lower.id], before: upper.id }
    if (await apply(moved, `Row ${at} moved ${isUp ? 'up' : 'down'}`)) await goToRow(row)
  }
  const putBelow = async (isFurtherIn: boolean): Promise<void> => {
    const target = isFurtherIn ? siblingAbove : outer
    if (row === undefined || target === undefined || columns === null) return
    const value = await cell(target, isFurtherIn ? columns.key : columns.parent)
    if (isFurtherIn && value === null)
      return book.say('refused', `The row above has no ${columns.key}, so nothing can be put below it.`)
    if (isFurtherIn && target.stand?.isFolded === true) unfold(target)
    const cells = [{ row: row.id, column: columns.parent, value: value as CellValue }]
    const done = isFurtherIn ? `Row ${at} put below row ${target.place}` : `Row ${at} put out of row ${target.place}`
    if (await apply({ op: 'set-cells', table: table.name, cells }, done)) await goToRow(row)
  }
  const told = (work: Promise<void>): void => void work.catch((error: Error) => book.say('refused', error.message))
  return {
    insert: (isAbove) => told(insert(isAbove)),
    move: (isUp) => told(move(isUp)),
    putBelow: (isFurtherIn) => {
      told(putBelow(isFurtherIn))
      return true
    },
  }
}
