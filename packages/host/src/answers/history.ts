import type { HistoryStep } from '@mellow-abacus/session'
import { type BookReader, finding, Refusal } from 'mellow-abacus'
import type { HeldBook } from '../held-book.js'
import { operationsPhrase } from './operations-phrase.js'
import { cellsOfStep } from './step-cells.js'

/** Steps told of at once, unless fewer are asked for, and at most. */
const USUAL_STEPS = 100
const MOST_STEPS = 1_000

/**
 * Steps of the history after a revision, the oldest first.
 *
 * @throws Refusal for a number that is none
 */
export function historyOf(
  held: HeldBook,
  reader: BookReader,
  { after = 0, limit = USUAL_STEPS }: { readonly after?: number; readonly limit?: number },
): { readonly steps: readonly HistoryStep[]; readonly next: number | null } {
  for (const [field, number] of Object.entries({ after, limit }))
    if (!Number.isInteger(number) || number < 0)
      throw new Refusal([
        finding('bad-operation', { place: `history, field ${field}`, reason: 'expected a whole number from 0.' }),
      ])
  // Names are those of the time of a step, so they are followed back from now.
  const told = [...reader.told([...held.stepsAfter(after)].reverse())].reverse()
  const shown = told.slice(0, Math.min(limit, MOST_STEPS))
  return {
    steps: shown.map(({ revision, kind, at, author, operations, recalculated }) => ({
      revision,
      kind,
      at: at === '' ? null : at,
      author: author === '' ? null : author,
      what: operationsPhrase(operations),
      cells: cellsOfStep(operations, () => held.inverseOf(revision)),
      recalculated,
    })),
    next: shown.length < told.length ? (shown.at(-1)?.revision ?? null) : null,
  }
}
