import type { ColumnFacts, SessionCells } from '@mellow-abacus/session'
import { useSyncExternalStore } from 'react'
import { isNumeric, type Look, lookOf } from '../look/cell-text'

/** Pixels of a row, of the head with the rod, and of the beam. */
export const ROW_HEIGHT = 27
const [HEAD_HEIGHT, BEAM_HEIGHT] = [104, 60]
/** The head without threads above the rod. */
const LOW_HEAD_HEIGHT = 78
/** Below this height of the page threads and beam fold. */
const LOW_PAGE = '(max-height: 500px)'
/** Pixels for the number of a row. */
export const NUMBER_WIDTH = 52
const [LEAST, MOST] = [64, 420]
/** Pixels before the text of a cell, those of a row one level deeper, and how many levels are told apart by them. */
const [INSET, INDENT, MOST_INDENTS] = [10, 16, 8]
/** Pixels by which the first column of an outline is wider, for some levels. */
const ROOM_OF_LEVELS = 3 * INDENT

/** Pixels before the text of a cell in the first column, which shows how deep its row stands. */
export const insetOf = (depth: number): number => INSET + INDENT * Math.min(depth, MOST_INDENTS)

/** What stands above and below the rows, in pixels. */
export interface Heights {
  readonly head: number
  readonly beam: number
}

const WHOLE: Heights = { head: HEAD_HEIGHT, beam: BEAM_HEIGHT }
const FOLDED: Heights = { head: LOW_HEAD_HEIGHT, beam: 0 }
const BESIDE: Heights = { head: LOW_HEAD_HEIGHT, beam: BEAM_HEIGHT }

/**
 * The heights of head and beam: on a low page there are no threads and no beam, so that rows have the room.
 *
 * @param isBeside - true for rows below those of another table: only these have threads
 */
export function useHeights(isBeside: boolean): Heights {
  const isLow = useSyncExternalStore(
    (notify) => {
      const media = window.matchMedia(LOW_PAGE)
      media.addEventListener('change', notify)
      return () => media.removeEventListener('change', notify)
    },
    () => window.matchMedia(LOW_PAGE).matches,
  )
  return isLow ? FOLDED : isBeside ? BESIDE : WHOLE
}

/** A column as it is laid out. */
export interface LaidOut {
  readonly column: ColumnFacts
  readonly look: Look
  readonly width: number
}

/** The columns of a table as they are laid out, the label first, which stays in sight. */
export function laidOut(
  columns: readonly ColumnFacts[],
  sample: readonly SessionCells[],
  widths: Readonly<Record<string, number>>,
  isOutlined: boolean,
): LaidOut[] {
  return columns.map((column, place) => ({
    column,
    look: lookOf(column, sample),
    width: clampWidth(widths[column.name] ?? widthOf(column, sample) + (isOutlined && place === 0 ? ROOM_OF_LEVELS : 0)),
  }))
}

/** A width that a column may have. */
export const clampWidth = (width: number): number => Math.max(LEAST, Math.min(MOST, Math.round(width)))

/** The whole heading, and of texts what the first rows hold. */
function widthOf(column: ColumnFacts, sample: readonly SessionCells[]): number {
  const { heading } = column.properties as { heading?: string }
  const { unit } = column
  const texts = isNumeric(column) ? [] : sample.slice(0, 40).map((cells) => String(cells[column.name] ?? '').length)
  const longest = Math.min(28, Math.max(0, ...texts))
  // The sort arrow stands beside the name, and the unit below it.
  const name = (heading ?? column.name).length * 7.6 + 38
  return Math.max(isNumeric(column) ? 84 : 104, name, (unit?.length ?? 0) * 7 + 30, 22 + longest * 7.2)
}

/** Sums of widths: where each column begins, and where the last one ends. */
export function startsOf(columns: readonly LaidOut[]): number[] {
  const starts = [0]
  for (const { width } of columns) starts.push((starts.at(-1) as number) + width)
  return starts
}
