import type * as v from 'valibot'
import type { ColumnId } from '../../formula/index.js'
import type { Model } from '../model/index.js'
import { readGiven } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'

/** One operation: what it looks like as JSON, what it touches, and what it does. */
export interface OperationDefinition<Op extends { readonly op: string }> {
  readonly schema: { readonly op: Op['op']; readonly journaled: v.GenericSchema<unknown, Op> }
  /**
   * The columns, and rows of tables, whose cells it is about to change, so that what depends on them is known before. A
   * definition touches nothing, since what it defines is computed anew. `names` is the model as the one who calls has it.
   */
  readonly touches?: (model: Model, operation: Op, names: Model) => Iterable<ColumnId>
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

/** The rows of a table and all its source columns, for operations that add, remove or move rows. */
export function* touchedRows(model: Model, { table: name }: { readonly table: string }): Generator<ColumnId> {
  const table = model.find(name)
  if (table === undefined) return
  yield table.store.rowsNode
  for (const column of table.columns) if (column.formula === null) yield column.id
}

/**
 * Reads the JSON of an operation.
 *
 * @throws Refusal naming the field that is not as it should be
 */
export function readOperationOf<Op extends { readonly op: string }>({ schema }: OperationDefinition<Op>, json: object): Op {
  return readGiven(schema.op, schema.journaled, json)
}
