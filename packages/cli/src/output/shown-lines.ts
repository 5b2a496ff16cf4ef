import type { WritableFormat } from '@mellow-abacus/files'
import { firstLines, foldedAt, type GroupedResult, isSameName } from 'mellow-abacus'
import { UsageFault } from '../shell/index.js'
import { SHOWN_ROWS } from './table-text.js'

/** How much of a grouped view is shown. */
interface ShownPart {
  /** The level that is folded, by its name or its number, from 1. */
  readonly fold?: string
  /** How many outermost groups were asked for. */
  readonly limit?: number
}

/** What is shown of a grouped view. */
interface ShownLines {
  readonly result: GroupedResult
  /** Lines deeper than this level are folded, and can be unfolded. */
  readonly foldedFrom?: number
  /** How many lines are left out because they are folded. */
  readonly folded?: number
}

/** Formats in which what is folded can be unfolded. */
const FOLDING: ReadonlySet<string> = new Set(['html', 'xlsx'])

/**
 * The lines of a grouped view that are shown in a format: without those under a folded level, but where they can be unfolded, and
 * on a terminal the first ones.
 *
 * @throws UsageFault for a level that there is not
 */
export function shownLines(result: GroupedResult, format: WritableFormat | 'table', { fold, limit }: ShownPart): ShownLines {
  const asked = fold === undefined ? undefined : levelOf(result, fold)
  const isForEyes = format === 'table' || format === 'md'
  const details = result.isFolded ? result.levels.length : undefined
  if (FOLDING.has(format)) {
    const foldedFrom = asked ?? details
    return foldedFrom === undefined ? { result } : { result, foldedFrom }
  }
  const level = asked ?? (isForEyes ? details : undefined)
  const folded = level === undefined ? result : foldedAt(result, level)
  const shown = format === 'table' && limit === undefined ? firstLines(folded, SHOWN_ROWS) : folded
  return { result: shown, folded: result.slots.length - folded.slots.length }
}

function levelOf({ levels }: GroupedResult, fold: string): number {
  const named = levels.findIndex((name) => isSameName(name, fold)) + 1
  if (named > 0) return named
  const number = /^\d+$/.test(fold) ? Number(fold) : -1
  if (number >= 0 && number <= levels.length) return number
  const known = levels.length === 0 ? 'there are no groups' : `the levels are ${levels.join(', ')}`
  throw new UsageFault(`--fold takes a level; ${known}, not ${JSON.stringify(fold)}.`)
}
