import { type MovedAnswer, type MovedRequest, sessionValue } from '@mellow-abacus/session'
import {
  type BookReader,
  CellFault,
  type Figure,
  finding,
  movesBetween,
  Refusal,
  type RowMoves,
  type ShownValue,
  type WorkbookView,
} from 'mellow-abacus'
import type { HeldBook, KeptStep } from '../held-book.js'
import { idCount, operationsPhrase } from './operations-phrase.js'

/** A step between two figures, in words. */
export interface StepInWords {
  readonly revision: number
  readonly at: string | null
  readonly author: string | null
  readonly what: string
}

/** Two values of a figure; undefined where it was not there, and no change where one of them is no number. */
interface Difference {
  readonly before: ShownValue | undefined
  readonly after: ShownValue | undefined
  readonly change: number | null
}

/** What moved a figure from one revision to another. */
export interface Moved extends Difference {
  /** The steps after which it was another one, with what it was before and after each. */
  readonly steps: readonly (StepInWords & Difference)[]
  /** What rows account for, where the value is a sum, a count, a mean, a share or a quotient of such, and of one formula all along. */
  readonly rows: RowMoves | null
}

/** Steps that are taken back to look behind them, at most, and cells that followed them; and rows that are told of. */
const MOST_STEPS = 200
const MOST_CELLS = 2_000_000
const MOST_ROWS = 200

/**
 * What moved a figure.
 *
 * @param figures - what it was before the first step and after each
 */
export function movedOver(figures: readonly (Figure | undefined)[], steps: readonly StepInWords[]): Moved {
  const [first, last] = [figures[0], figures.at(-1)]
  const moving = steps.flatMap((step, at) => {
    const [before, after] = [figures[at], figures[at + 1]]
    return isSame(before?.value, after?.value) ? [] : [{ ...step, ...differenceOf(before, after) }]
  })
  const rows = first === undefined || last === undefined ? null : movesBetween(first, last)
  return { ...differenceOf(first, last), steps: moving, rows }
}

/** Two values and their difference: where rows add up to them as it was before the values were rounded. */
function differenceOf(one: Figure | undefined, other: Figure | undefined): Difference {
  const [before, after] = [one?.value, other?.value]
  const isNumber = typeof before === 'number' && typeof after === 'number'
  const exact = one === undefined || other === undefined ? undefined : movesBetween(one, other)?.difference
  return { before, after, change: isNumber ? (exact ?? after - before) : null }
}

function isSame(one: ShownValue | undefined, other: ShownValue | undefined): boolean {
  if (one instanceof CellFault && other instanceof CellFault) return one.code === other.code && one.text === other.text
  return Object.is(one, other)
}

/**
 * What moved a value between two steps, as far back as the reader may look.
 *
 * @throws Refusal for revisions that there are not, and where it is too far back
 */
export function movedAnswer(held: HeldBook, reader: BookReader, { address, row, keys, from, to }: MovedRequest): MovedAnswer {
  const { revision } = reader.view
  const last = to ?? revision
  if (!Number.isInteger(from) || !Number.isInteger(last) || from < 0 || last < from || last > revision)
    throw refused(`expected two revisions, the earlier one first, of 0 to ${revision}.`)
  if (revision - from > MOST_STEPS)
    throw refused(`it looks back at most ${MOST_STEPS} steps, and from revision ${from} there are ${revision - from}.`)
  // What is asked for is looked for as it is now, and then as far back as it was there.
  const of = keys ?? row
  const now = reader.view.figure(address, of)
  const figure = (view: WorkbookView): Figure | undefined => {
    try {
      return view.figure(address, of)
    } catch (error) {
      if (error instanceof Refusal) return undefined
      throw error
    }
  }
  const newest = [...held.stepsAfter(from)].reverse()
  refuseLarge(newest, from)
  const behind = reader.lookBack(
    newest.map((step) => held.inverseOf(step.revision)),
    figure,
  )
  const told = new Map(Array.from(reader.told(newest), (step) => [step.revision, operationsPhrase(step.operations)]))
  const steps = newest.slice(0, behind.length).map(({ revision: made, at, author }) => ({
    revision: made,
    at: at === '' ? null : at,
    author: author === '' ? null : author,
    what: told.get(made) ?? 'something that you do not see',
  }))
  const figures = [now, ...behind].reverse()
  const until = steps.filter((step) => step.revision <= last).length
  const { rows, ...moved } = movedOver(figures.slice(0, until + 1), steps.reverse().slice(0, until))
  return {
    revision,
    isWhole: behind.length === revision - from,
    ...shown(moved),
    steps: moved.steps.map(({ revision: made, at, author, what, ...step }) => ({
      revision: made,
      at,
      author,
      what,
      ...shown(step),
    })),
    rows:
      rows === null ? null : { ...rows, rows: rows.rows.slice(0, MOST_ROWS), more: Math.max(0, rows.rows.length - MOST_ROWS) },
  }
}

/** Refuses to take steps back that a whole host would wait for. */
function refuseLarge(steps: readonly KeptStep[], from: number): void {
  const inserted = steps.flatMap(({ operations }) =>
    operations.map((one) => (one.op === 'insert-rows' && one.ids !== undefined ? idCount(one.ids) : 0)),
  )
  const followed = steps.flatMap(({ recalculated }) => recalculated.map(({ rows }) => rows))
  const cells = [...inserted, ...followed].reduce((sum, count) => sum + count, 0)
  if (cells <= MOST_CELLS) return
  const most = MOST_CELLS.toLocaleString('en')
  throw refused(
    `the steps from revision ${from} on are of ${cells.toLocaleString('en')} rows and cells; it looks behind at most ${most}.`,
  )
}

function shown({ before, after, change }: Difference): Pick<MovedAnswer, 'before' | 'after' | 'change'> {
  return {
    ...(before !== undefined && { before: sessionValue(before) }),
    ...(after !== undefined && { after: sessionValue(after) }),
    change,
  }
}

function refused(reason: string): Refusal {
  return new Refusal([finding('bad-operation', { place: 'moved', reason })])
}
