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

/** What stands above and below the rows, in pixels. */
export interface Heights {
  readonly head: number
  readonly beam: number
}

const WHOLE: Heights = { head: HEAD_HEIGHT, beam: BEAM_HEIGHT }
const FOLDED: Heights = { head: LOW_HEAD_HEIGHT, beam: 0 }

/** The heights of head and beam: on a low page there are no threads and no beam, so that rows have the room. */
export function useHeights(): Heights {
  const isLow = useSyncExternalStore(
    (notify) => {
      const media = window.matchMedia(LOW_PAGE)
      media.addEventListener('change', notify)
      return () => media.removeEventListener('change', notify)
    },
    () => window.matchMedia(LOW_PAGE).matches,
  )
  return isLow ? FOLDED : WHOLE
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
): LaidOut[] {
  return columns.map((column) => ({
    column,
    look: lookOf(column, sample),
    width: clampWidth(widths[column.name] ?? widthOf(column, sample)),
  }))
}

/** A width that a column may have. */
export const clampWidth = (width: number): number => Math.max(LEAST, Math.min(MOST, Math.round(width)))

/** The whole heading, and of texts what the first rows hold. */
function widthOf(column: ColumnFacts, sample: readonly SessionCells[]): number {
  const { heading, unit } = column.properties as { heading?: string; unit?: string }
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
