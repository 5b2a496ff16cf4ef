import Table from 'cli-table3'
import {
  CellFault,
  counted,
  displayOf,
  type QueryColumn,
  type QueryResult,
  type Scalar,
  tidyDisplayOf,
  type ValueType,
} from 'mellow-abacus'
import type { Paint } from '../shell/index.js'
import type { Totals, TotalsLine } from './totals-line.js'

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

/** A cell as it is shown. */
export interface ShownCell {
  readonly text: string
  readonly painted: (text: string) => string
}

/** A heading as it is shown. */
export interface ShownHead extends ShownCell {
  /** Whether its column stands at the left, as texts do. */
  readonly isLeft: boolean
}

/** How cells are laid out. */
interface Layout {
  /** For each column but an outline before them, whether it is what was asked for, and so is kept where not all fit. */
  readonly wanted: readonly boolean[]
  readonly width: number
  readonly paint: Paint
  /** How many rows or lines are left out. */
  readonly more: number
  readonly unit: 'row' | 'line'
  /** Rows below the others, where columns of some places are shown. */
  readonly below?: (places: readonly number[]) => readonly (readonly ShownCell[])[]
  /** What else is to be said under it. */
  readonly notes?: readonly string[]
}

/** What goes with the rows of a table besides their cells. */
export interface RowsShown {
  /** Whether the first column has the numbers of the rows, and stays where not all columns fit. */
  readonly hasNumbers?: boolean
  /** Names of the columns that stay where not all fit; without any it is those calculated. */
  readonly wanted?: readonly string[]
  /** The column that is set in by how deep a row stands in an outline. */
  readonly outlineColumn?: string
  /** How deep each row stands in an outline. */
  readonly depths?: Int32Array
  /** Totals below the rows, where some columns are shown. */
  readonly totals?: (shown: ReadonlySet<string>) => Totals
}

/**
 * Rows as a table for the eye: ○ stands before source columns, ● before calculated ones, ◐ before those of which something is
 * stale, ◌ before paused ones, ◇ before stamps; blank is empty, an empty text `""`, an error `!code`. Columns that do not fit the
 * width are left out and named.
 */
export function tableText(result: QueryResult, paint: Paint, width: number, way: WayToShow & RowsShown = {}): string {
  const { hasNumbers = false, wanted, outlineColumn, totals, depths } = way
  const { columns } = result
  const cells = shownRows(result, way).map((row, at) =>
    row.map((text, place): ShownCell => {
      if (hasNumbers && place === 0) return { text, painted: paint.quiet }
      const setIn = columns[place]?.name === outlineColumn ? '  '.repeat(depths?.[at] ?? 0) : ''
      const painted = text.startsWith('!') ? paint.error : columns[place]?.calculated === true ? paint.calculated : plain
      return { text: `${setIn}${text}`, painted }
    }),
  )
  let others = ''
  const below = (places: readonly number[]): ShownCell[][] => {
    const found = totals?.(new Set(places.map((place) => columns[place]?.name ?? '')))
    others = found?.others ?? ''
    return (found?.lines ?? []).map((line) => totalsCells(line, result, hasNumbers, paint))
  }
  const fixed = hasNumbers ? 1 : 0
  const body = layOut(
    columns.map((column, place) =>
      place < fixed ? { text: column.name, painted: paint.quiet, isLeft: false } : heading(column, paint),
    ),
    cells,
    {
      below,
      wanted: columns.slice(fixed).map(({ name, calculated }) => (wanted === undefined ? calculated : wanted.includes(name))),
      width,
      paint,
      more: result.matched - result.slots.length,
      unit: 'row',
    },
  )
  return others === '' ? body : `${body}${paint.quiet(others)}`
}

function totalsCells(
  { label, isName, cells }: TotalsLine,
  { columns }: QueryResult,
  hasNumbers: boolean,
  paint: Paint,
): ShownCell[] {
  return columns.map(({ name }, place) => {
    if (hasNumbers && place === 0) return { text: label, painted: paint.quiet }
    return { text: cells.get(name) ?? '', painted: isName ? paint.quiet : paint.strong }
  })
}

const plain = (text: string): string => text

/** Cells under their headings. Columns that do not fit the width are left out and counted; an outline before the others stays. */
export function layOut(heads: readonly ShownHead[], cells: readonly (readonly ShownCell[])[], layout: Layout): string {
  const { wanted, width, paint, more, unit, notes: others = [], below = () => [] } = layout
  const everything = [...cells, ...below([...heads.keys()])]
  const widths = heads.map(({ text }, place) =>
    everything.reduce((most, row) => Math.max(most, row[place]?.text.length ?? 0), text.length),
  )
  const fixed = heads.length - wanted.length
  const kept = placesThatFit([...heads.slice(0, fixed).map(() => true), ...wanted], widths, width)
  const table = new Table({
    head: kept.map((place) => painted(heads[place] as ShownHead)),
    colAligns: kept.map((place) => (heads[place]?.isLeft === true ? 'left' : 'right')),
    chars: { ...bare, ...inner },
    style: { head: [], border: [], 'padding-left': 0, 'padding-right': 0 },
  })
  for (const row of [...cells, ...below(kept)]) table.push(kept.map((place) => painted(row[place] as ShownCell)))
  const left = [...heads.keys()].filter((place) => !kept.includes(place))
  const notes = [
    ...(more > 0 ? [`… ${counted(more, `more ${unit}`)}`] : []),
    ...others,
    ...(left.length > 0
      ? [
          leftOut(
            left.map((place) => heads[place] as ShownHead),
            width,
          ),
        ]
      : []),
  ]
  const body = table
    .toString()
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n')
  return `${body}\n${notes.length > 0 ? `${paint.quiet(notes.join(', '))}\n` : ''}`
}

/** Names the columns that do not fit, as far as a line goes. */
function leftOut(heads: readonly ShownHead[], width: number): string {
  const names = heads.map(({ text }) => text.replace(/^[○●◐◌◇] /, ''))
  const whole = `… ${counted(names.length, 'more column')}: ${names.join(', ')}`
  return whole.length <= width ? whole : `${whole.slice(0, Math.max(24, width - 1))}…`
}

const painted = ({ text, painted: paint }: ShownCell): string => paint(text)

/** How values are shown. */
export interface WayToShow {
  readonly locale?: string
  /** With all digits, where no way to display them is set. */
  readonly exact?: boolean
}

/** How the values of each column are written. */
export function columnDisplays(
  { columns, slots }: Pick<QueryResult, 'columns' | 'slots'>,
  { locale = 'en', exact = false }: WayToShow,
): ((value: Scalar) => string)[] {
  return columns.map((column) => (exact ? displayOf(column, locale) : tidyDisplayOf(column, slots, locale)) ?? String)
}

/** The cells as text, row by row, in the way that each column is displayed. */
export function shownRows(result: Pick<QueryResult, 'columns' | 'slots'>, way: WayToShow): string[][] {
  const { columns, slots } = result
  const shows = columnDisplays(result, way)
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

/** The heading of a column: its mark, name and unit. */
export function heading(column: QueryColumn, paint: Paint): ShownHead {
  const { heading: named = column.name, symbol = column.unit } = column.properties
  const text = `${markOf(column)} ${oneLine(named)}${symbol === null ? '' : ` ${symbol}`}`
  return { text, painted: column.calculated ? paint.calculated : paint.strong, isLeft: !isNumeric(column.type) }
}

const STATE_MARKS = { stale: '◐', paused: '◌', stamp: '◇' } as const

function markOf({ calculated, state }: QueryColumn): string {
  return state !== null ? STATE_MARKS[state] : calculated ? '●' : '○'
}

function isNumeric(type: ValueType | null): boolean {
  return type === 'number' || type === 'integer'
}

/** Columns that fit side by side: what was asked for comes first, then the others from the left. */
function placesThatFit(isWanted: readonly boolean[], widths: readonly number[], width: number): number[] {
  const wanted = [...widths.keys()].sort((a, b) => Number(isWanted[b]) - Number(isWanted[a]) || a - b)
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
