import { type Moved, movedOver, operationsPhrase, type StepInWords } from '@mellow-abacus/host'
import { displayNumber, type Figure, type RowMoves, Workbook } from 'mellow-abacus'
import { type BookAtHand, shownText } from '../../books/index.js'

/** Goes through the history anew, and looks at a value after each step between two revisions. */
export function movedBetween(
  file: BookAtHand,
  address: string,
  row: number | readonly string[] | undefined,
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
  const figures: (Figure | undefined)[] = []
  const steps: StepInWords[] = []
  for (const { revision, kind, of = null, operations, at, author } of file.journal()) {
    if (revision > to) break
    if (revision > from && figures.length === 0) figures.push(figure())
    if (kind === 'apply') past.apply(operations)
    else past.turnStep(kind, of)
    if (revision <= from) continue
    figures.push(figure())
    steps.push({ revision, at, author, what: kind === 'apply' ? operationsPhrase(operations) : kind })
  }
  if (figures.length === 0) figures.push(figure())
  // Of what was never there it is said why.
  if (figures.every((one) => one === undefined)) file.book.figure(address, row)
  return movedOver(figures, steps)
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

function movedWords({ before, after, change }: Pick<Moved, 'before' | 'after' | 'change'>): string {
  return `${shownText(before)} → ${shownText(after)}${change === null ? '' : `, ${signed(change)}`}`
}

function signed(change: number): string {
  return change < 0 ? displayNumber(change) : `+${displayNumber(change)}`
}
