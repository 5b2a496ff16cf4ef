import type { ColumnFacts, RowsToShow, SessionCells, TableFacts, WindowRow } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { type ClipboardEvent, useState } from 'react'
import type { DeskBook } from '../book/desk-book'
import { GHOST } from '../formula/ghost'
import type { Leaving } from './cell-input'
import { copyCells, pasteCells } from './clipboard'
import type { Editing } from './grid-row'
import type { LaidOut } from './layout'
import type { GridPlace } from './moves'
import type { Range } from './ranges'
import { datesFirst, startText, typedValue } from './typed-value'

/** What cells are typed into, filled, copied and pasted by. */
export interface CellEditing {
  /** The cell that is being edited; null where none is. */
  readonly editing: Editing | null
  /** @param typed - what was typed first; null to begin with what is there */
  begin(typed: string | null): void
  keep(text: string, leaving: Leaving): void
  giveUp(): void
  blank(): void
  fillDown(): void
  copy(event: ClipboardEvent): void
  paste(event: ClipboardEvent): void
}

/** Edits the current cell and the range around it. */
export function useEditing({
  book,
  table,
  shown,
  had,
  columns,
  rows,
  count,
  at,
  range,
  goTo,
  focus,
}: {
  readonly book: DeskBook
  readonly table: TableFacts
  readonly shown: RowsToShow
  /** Names of the columns whose cells are at hand. */
  readonly had: readonly string[]
  readonly columns: readonly LaidOut[]
  /** The rows in hand, of how many there are. */
  readonly rows: readonly WindowRow[]
  readonly count: number
  readonly at: GridPlace
  readonly range: Range
  readonly goTo: (place: GridPlace) => void
  readonly focus: () => void
}): CellEditing {
  const [editing, setEditing] = useState<Editing | null>(null)
  const rowAt = (place: number): WindowRow | undefined => rows[place - (rows[0]?.place ?? 1)]
  const here = columns[at.column]?.column
  const rangeColumns = (): ColumnFacts[] =>
    columns.slice(range.left, range.right + 1).flatMap(({ column }) => (column.name === GHOST ? [] : [column]))
  const setRange = (fresh: (row: WindowRow, column: ColumnFacts) => unknown, done: string): void => {
    const open = rangeColumns().filter((column) => !column.calculated)
    const made = rows
      .filter(({ place }) => place >= range.top && place <= range.bottom)
      .flatMap((row) => open.map((column) => ({ row: row.id, column: column.name, value: fresh(row, column) })))
    if (made.length === 0) return book.say('refused', 'These cells are calculated, so they cannot be typed over.')
    void book.apply({ op: 'set-cells', table: table.name, cells: made } as Operation, done)
  }
  const clipped = { book, shown, had, range, rows, columns: rangeColumns() }
  const isClipping = editing === null && at.place > 0
  return {
    editing,
    begin: (typed) => {
      const hereRow = at.place > 0 ? rowAt(at.place) : undefined
      if (here === undefined || hereRow === undefined) return
      const refused = whyFixed(book, here)
      if (refused !== null) return book.say('refused', refused)
      const choices = (here.properties.choices ?? []) as readonly string[]
      const start = startText(hereRow.cells[here.name])
      const begun = { ...at, typed, start, choices: here.type === 'boolean' ? ['true', 'false'] : choices }
      setEditing(begun)
      // Where the column is a link, the keys that it may lead to are offered as soon as they are there.
      void linkedKeys(book, table, here.name).then((keys) => {
        if (keys.length > 0) setEditing((now) => (now === begun ? { ...begun, choices: keys } : now))
      })
    },
    keep: (text, leaving) => {
      const edited = editing
      setEditing(null)
      focus()
      const column = edited === null ? undefined : columns[edited.column]?.column
      const row = edited === null ? undefined : rowAt(edited.place)
      if (edited === null || column === undefined || row === undefined) return
      const [dy, dx] = STEPS[leaving]
      if (leaving !== 'stay')
        goTo({ place: clamp(edited.place + dy, 1, count), column: clamp(edited.column + dx, 0, columns.length - 1) })
      if (text === edited.start && edited.typed === null) return
      const typed = typedValue(text, column)
      if ('refused' in typed) return book.say('refused', typed.refused)
      const cell = { row: row.id, column: column.name, value: typed.value }
      const dates = book.may.define ? datesFirst(table.name, [column], () => [text]) : []
      const operations: Operation[] = [...dates, { op: 'set-cells', table: table.name, cells: [cell] }]
      void book.apply(operations, `${column.name} of row ${row.place} set`)
    },
    giveUp: () => {
      setEditing(null)
      focus()
    },
    blank: () => setRange(() => null, 'Made blank'),
    fillDown: () => {
      if (range.bottom === range.top) return
      const first = rowAt(range.top)
      // What is out of sight in a wide table is not at hand, and would be filled with nothing.
      if (!rangeColumns().every(({ name }) => had.includes(name)))
        return book.say('refused', 'These are more columns than can be filled down at once. Fill down some of them.')
      setRange((_, column) => storedValue(first?.cells[column.name]), 'Filled down')
    },
    copy: (event) => {
      if (!isClipping) return
      event.preventDefault()
      void copyCells(event.clipboardData, clipped)
    },
    paste: (event) => {
      if (!isClipping) return
      event.preventDefault()
      void pasteCells(event.clipboardData, { ...clipped, columns: columns.slice(range.left).map(({ column }) => column) })
    },
  }
}

/** Keys that are offered at most. */
const MOST_KEYS = 500

/** The keys of the rows that a column may link to; none where it is no link. */
async function linkedKeys({ session }: DeskBook, { links }: TableFacts, column: string): Promise<readonly string[]> {
  const link = links.find(({ columns }) => columns.length === 1 && columns[0] === column)
  const [key] = link?.keys ?? []
  if (link === undefined || key === undefined) return []
  try {
    const { rows } = await session.query({ table: link.to, columns: [key], order: [{ column: key }], limit: MOST_KEYS })
    return rows.map(({ cells }) => startText(cells[key])).filter((text) => text !== '')
  } catch {
    // Nothing is offered then: any key can be typed.
    return []
  }
}

/** Why a cell of a column cannot be typed over; null where it can. */
function whyFixed({ may }: DeskBook, { name, calculated, state }: ColumnFacts): string | null {
  if (!may.enter) return 'You are a reader of this workbook: you see all of it and change nothing.'
  if (name === GHOST) return 'This column is a draft: its values come from the formula that is being written.'
  if (state === 'stamp') return `${name} writes itself, so a cell of it cannot be typed over.`
  if (!calculated) return null
  return `${name} is calculated, so a cell of it cannot be typed over. Edit its formula, or pause it to type values by hand.`
}

const STEPS: Readonly<Record<Leaving, readonly [number, number]>> = {
  down: [1, 0],
  up: [-1, 0],
  right: [0, 1],
  left: [0, -1],
  stay: [0, 0],
}

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value))

/** A value of a cell as an operation takes it. */
function storedValue(value: SessionCells[string] | undefined): unknown {
  return typeof value === 'object' && value !== null && 'error' in value ? null : (value ?? null)
}
