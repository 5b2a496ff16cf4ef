import * as v from 'valibot'
import { readGiven } from '../read-given.js'
import type { Transaction } from '../transaction.js'
import { Id, RowCount } from './shapes.js'

/** One operation: the name it goes by, the shape of its JSON, and what it does. */
export interface OperationDefinition<Op extends { readonly op: string }> {
  readonly op: Op['op']
  readonly shape: v.GenericSchema<unknown, Op>
  /**
   * Checks against the model, then changes it, in that order, so that a refused operation has changed nothing. Notes in the
   * transaction what it touched, how it is undone (`undoWith`) and itself with ids filled in (`applied`).
   */
  readonly apply: (transaction: Transaction, operation: Op) => void
}

/** Makes the definition of an operation. */
export function defineOperation<Op extends { readonly op: string }>(
  definition: OperationDefinition<Op>,
): OperationDefinition<Op> {
  return definition
}

/** An id of a row. */
export const RowId: typeof Id = Id

/** Ids of rows: a list, or a run of consecutive ones, as bulk changes have them. */
export const RowIds = v.union([v.array(RowId), v.strictObject({ first: RowId, count: RowCount })])

/** Ids of rows: a list, or a run of consecutive ones. */
export type RowIds = v.InferOutput<typeof RowIds>

/** The ids one by one. */
export function listIds(ids: RowIds): readonly number[] {
  return Array.isArray(ids) ? ids : Array.from({ length: ids.count }, (_, index) => ids.first + index)
}

/** The ids as they take least: a run where there are many consecutive ones, so that ten million new rows are two numbers. */
export function packIds(ids: readonly number[]): RowIds {
  const [first] = ids
  if (first === undefined || ids.length < FEWEST_IN_RUN) return [...ids]
  return ids.every((id, index) => id === first + index) ? { first, count: ids.length } : [...ids]
}

/** Shorter runs are listed, which is easier to read. */
const FEWEST_IN_RUN = 100

/**
 * Reads the JSON of an operation.
 *
 * @throws Refusal naming the field that is not as it should be
 */
export function readShape<Op extends { readonly op: string }>(definition: OperationDefinition<Op>, json: object): Op {
  return readGiven(definition.op, definition.shape, json)
}
