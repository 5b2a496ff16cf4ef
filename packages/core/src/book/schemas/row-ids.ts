import * as v from 'valibot'
import { Id, list, RowCount } from './fields.js'

/** An id of a row. */
export const RowId: typeof Id = Id

/** Ids of rows: a list, or a run of consecutive ones, as bulk changes have them. */
export const RowIds = v.union([
  list(RowId),
  v.strictObject({
    /** The first id of a run. */
    first: RowId,
    /** How many ids follow each other. */
    count: RowCount,
  }),
])

/** Ids of rows: a list, or a run of consecutive ones. */
export type RowIds = v.InferOutput<typeof RowIds>

/** Lists the ids one by one. */
export function listIds(ids: RowIds): readonly number[] {
  return 'first' in ids ? Array.from({ length: ids.count }, (_, index) => ids.first + index) : ids
}

/** Packs ids as they take least: a run where many follow each other, so that ten million new rows are two numbers. */
export function packIds(ids: readonly number[]): RowIds {
  const [first] = ids
  if (first === undefined || ids.length < FEWEST_IN_RUN) return [...ids]
  return ids.every((id, index) => id === first + index) ? { first, count: ids.length } : [...ids]
}

/** Shorter runs are listed, which is easier to read. */
const FEWEST_IN_RUN = 100
