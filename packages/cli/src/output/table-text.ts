import Table from 'cli-table3'
import { CellFault, displayOf, type QueryColumn, type QueryResult, type ValueType } from 'mellow-abacus'
import type { Paint } from '../shell/index.js'

/** Rows a terminal table shows unless more are asked for. */
export const SHOWN_ROWS = 40
/** Characters of a cell shown. */
const WIDEST_CELL = 36
/** Characters of a cell that are looked at. */
const LONGEST_LOOKED_AT = 500

const bare = {
  top: '',
  'top-mid': '',
  'top-left': '',
  'top-right': '',
  bottom: '',
  'bottom-mid': '',
  'bottom-left': '',
  'bottom-right': '',
}
const inner = { left: '', 'left-mid': '', mid: '', 'mid-mid': '', right: '', 'right-mid': '', middle: '  ' }

/**
 * Rows as a table for the eye: ○ stands before source columns, ● before calculated ones, ◐ before those of which something is
 * stale, ◌ before paused ones, ◇ before stamps; blank is empty, an empty text `""`, an error `!code`. Columns that do not fit the width are left out and counted.
 */
export function tableText(result: QueryResult, paint: Paint, width: number, locale = 'en'): string {
  const rows = shownRows(result, locale)
  const widths = result.columns.map((column, place) =>
    rows.reduce((most, row) => Math.max(most, (row[place] as string).length), headingOf(column).length),
  )
  const kept = placesThatFit(result.columns, widths, width)
  const table = new Table({
    head: kept.map((place) => heading(result.columns[place] as QueryColumn, paint)),
    colAligns: kept.map((place) => (isNumeric((result.columns[place] as QueryColumn).type) ? 'right' : 'left')),
    chars: { ...bare, ...inner },
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 0 },
  })
  for (const row of rows) {
    table.push(
      kept.map((place) => {
        const text = row[place] as string
        if (text.startsWith('!')) return paint.error(text)
        return (result.columns[place] as QueryColumn).calculated ? paint.calculated(text) : text
      }),
    )
  }
  const notes = [
    result.matched > result.slots.length ? `… ${result.matched - result.slots.length} more rows` : '',
    kept.length < result.columns.length ? `… ${result.columns.length - kept.length} more columns` : '',
  ].filter((note) => note !== '')
  const body = table
    .toString()
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n')
  return `${body}\n${notes.length > 0 ? `${paint.quiet(notes.join(', '))}\n` : ''}`
}

/** The cells as text, row by row, in the way that each column is displayed. */
function shownRows({ columns, slots }: QueryResult, locale: string): string[][] {
  const shows = columns.map((column) => displayOf(column, locale) ?? String)
  return Array.from(slots, (slot) =>
    columns.map(({ storage, calculated }, place) => {
      const cell = storage?.read(slot) ?? null
      if (cell === null) return ''
      if (cell instanceof CellFault) return !calculated && cell.text !== undefined ? oneLine(cell.text) : String(cell)
      return cell === '' ? '""' : oneLine((shows[place] as (value: typeof cell) => string)(cell))
    }),
  )
}

function oneLine(whole: string): string {
  // More than this is never seen, and looking for line ends in a long run of spaces takes the square of its length.
  const text = whole.length > LONGEST_LOOKED_AT ? whole.slice(0, LONGEST_LOOKED_AT) : whole
  const line = text.replace(/\s*[\r\n]+\s*/g, ' ⏎ ').replace(/[\p{Cc}\p{Cf}]/gu, ' ')
  return line.length <= WIDEST_CELL ? line : `${line.slice(0, WIDEST_CELL - 1)}…`
}

function headingOf(column: QueryColumn): string {
  const { heading = column.name, symbol = column.unit } = column.properties
  return `○ ${oneLine(heading)}${symbol === null ? '' : ` ${symbol}`}`
}

function heading(column: QueryColumn, paint: Paint): string {
  const text = `${markOf(column)}${headingOf(column).slice(1)}`
  return column.calculated ? paint.calculated(text) : paint.strong(text)
}

const STATE_MARKS = { stale: '◐', paused: '◌', stamp: '◇' } as const

function markOf({ calculated, state }: QueryColumn): string {
  return state !== null ? STATE_MARKS[state] : calculated ? '●' : '○'
}

function isNumeric(type: ValueType | null): boolean {
  return type === 'number' || type === 'integer'
}

/** Columns that fit side by side: calculated ones are what was asked for, so they come first, then the others from the left. */
function placesThatFit(columns: readonly QueryColumn[], widths: readonly number[], width: number): number[] {
  const wanted = [...columns.keys()].sort((a, b) => Number(columns[b]?.calculated) - Number(columns[a]?.calculated) || a - b)
  const kept: number[] = []
  let used = 0
  for (const place of wanted) {
    const needed = (widths[place] as number) + 2
    if (kept.length > 0 && used + needed > width) break
    kept.push(place)
    used += needed
  }
  return kept.sort((a, b) => a - b)
}
