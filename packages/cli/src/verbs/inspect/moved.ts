import { operationsPhrase } from '@mellow-abacus/host'
import { CellFault, displayNumber, type Figure, movesBetween, type RowMoves, type ShownValue, Workbook } from 'mellow-abacus'
import { type BookAtHand, shownText } from '../../books/index.js'

/** A step that moved a value. */
interface MovingStep {
  readonly revision: number
  readonly at: string | null
  readonly author: string | null
  readonly what: string
  readonly before: ShownValue | undefined
  readonly after: ShownValue | undefined
  /** By how much it moved a number; null for anything else. */
  readonly change: number | null
}

/** What moved a value between two revisions. */
export interface Moved {
  readonly before: ShownValue | undefined
  readonly after: ShownValue | undefined
  readonly change: number | null
  /** The steps after the first revision, up to the second, after which it was another one. */
  readonly steps: readonly MovingStep[]
  /** What rows account for, where the value is a sum, a count, a mean, a share or a quotient of such, and of one formula all along. */
  readonly rows: RowMoves | null
}

/** Goes through the history anew, and looks at a value after each step between two revisions. */
export function movedBetween(
  file: BookAtHand,
  address: string,
  row: number | undefined,
  [from, to]: readonly [number, number],
): Moved {
  const past = new Workbook({ ...file.book.surroundings, undoLimit: Number.POSITIVE_INFINITY })
  const figure = (): Figure | undefined => {
    try {
      return past.figure(address, row)
    } catch {
      // What is asked for is not there at that revision.
      return undefined
    }
  }
  let first: Figure | undefined
  let last: Figure | undefined
  let isBegun = false
  const steps: MovingStep[] = []
  for (const { revision, kind, of = null, operations, at, author } of file.journal()) {
    if (revision > to) break
    if (revision > from && !isBegun) {
      first = figure()
      last = first
      isBegun = true
    }
    if (kind === 'apply') past.apply(operations)
    else past.turnStep(kind, of)
    if (!isBegun) continue
    const next = figure()
    const what = kind === 'apply' ? operationsPhrase(operations) : kind
    if (!isSame(last?.value, next?.value)) steps.push({ revision, at, author, what, ...difference(last, next) })
    last = next
  }
  if (!isBegun) {
    first = figure()
    last = first
  }
  const rows = first === undefined || last === undefined ? null : movesBetween(first, last)
  return { ...difference(first, last), steps, rows }
}

/** Two values and their difference: where rows add up to them as it was before the values were rounded. */
function difference(one: Figure | undefined, other: Figure | undefined): Pick<MovingStep, 'before' | 'after' | 'change'> {
  const [before, after] = [one?.value, other?.value]
  const isNumber = typeof before === 'number' && typeof after === 'number'
  const exact = one === undefined || other === undefined ? undefined : movesBetween(one, other)?.difference
  return { before, after, change: isNumber ? (exact ?? after - before) : null }
}

function isSame(one: ShownValue | undefined, other: ShownValue | undefined): boolean {
  if (one instanceof CellFault || other instanceof CellFault) return shownText(one) === shownText(other)
  return Object.is(one, other)
}

/** Rows that are listed one by one. */
const MOST_ROWS = 20

/** What moved a value, as text. */
export function movedText(address: string, [from, to]: readonly [number, number], moved: Moved): string {
  const { before, steps, rows } = moved
  if (steps.length === 0) return `Nothing from revision ${from} to ${to} has moved ${address}; it is ${shownText(before)}.\n`
  const lines = [`${address} from revision ${from} to ${to}: ${movedWords(moved)}`]
  for (const step of steps) {
    lines.push(`revision ${step.revision}  ${step.at}  ${step.author}  ${step.what}`)
    lines.push(`  ${movedWords(step)}`)
  }
  if (rows !== null && rows.rows.length > 0) lines.push(...rowLines(rows))
  return `${lines.join('\n')}\n`
}

function rowLines({ table, rows, difference }: RowMoves): string[] {
  const shown = rows.slice(0, MOST_ROWS)
  const width = Math.max(...shown.map(({ rowNumber }) => String(rowNumber).length))
  const rest = rows.slice(MOST_ROWS).reduce((sum, { change }) => sum + change, 0)
  return [
    `rows of ${table} that account for it, ${signed(difference)} in all:`,
    ...shown.map(({ rowNumber, was, change }) => `  row ${String(rowNumber).padEnd(width)}  ${was.padEnd(7)}  ${signed(change)}`),
    ...(rows.length > MOST_ROWS ? [`  … and ${(rows.length - MOST_ROWS).toLocaleString('en')} more, ${signed(rest)}`] : []),
  ]
}

function movedWords({ before, after, change }: Pick<MovingStep, 'before' | 'after' | 'change'>): string {
  return `${shownText(before)} → ${shownText(after)}${change === null ? '' : `, ${signed(change)}`}`
}

function signed(change: number): string {
  return change < 0 ? displayNumber(change) : `+${displayNumber(change)}`
}
