import { nearestName, refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { Model } from '../model/index.js'
import type { AnyOperationSchema, JournaledOperation } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { acceptFinding, withdrawAcceptance } from './accept-finding.js'
import { addColumn } from './add-column.js'
import { addLink } from './add-link.js'
import { addTable } from './add-table.js'
import { changeColumn } from './change-column.js'
import { changeTable } from './change-table.js'
import { type OperationDefinition, readOperationOf } from './define.js'
import { detachColumn } from './detach-column.js'
import { fillColumn } from './fill-column.js'
import { insertRows } from './insert-rows.js'
import { moveColumn } from './move-column.js'
import { moveRows } from './move-rows.js'
import { pauseColumn } from './pause-column.js'
import { recalculate } from './recalculate.js'
import { removeColumn } from './remove-column.js'
import { removeLink } from './remove-link.js'
import { removeRows } from './remove-rows.js'
import { removeTable } from './remove-table.js'
import { renameColumn } from './rename-column.js'
import { renameTable } from './rename-table.js'
import { rereadRows } from './reread-rows.js'
import { resumeColumn } from './resume-column.js'
import { setCells } from './set-cells.js'
import { setMetadata } from './set-metadata.js'
import { setMode } from './set-mode.js'
import { removeReport, setReport } from './set-report.js'
import { removeRule, setRule } from './set-rule.js'
import { setStamp, stampCells } from './set-stamp.js'
import { setSurroundings } from './set-surroundings.js'
import { removeTally, setTally } from './set-tally.js'
import { removeValue, setValue } from './set-value.js'
import { tick } from './tick.js'

const definitions = [
  addTable,
  changeTable,
  removeTable,
  addColumn,
  changeColumn,
  renameColumn,
  removeColumn,
  detachColumn,
  insertRows,
  removeRows,
  setCells,
  fillColumn,
  addLink,
  removeLink,
  setValue,
  removeValue,
  setTally,
  removeTally,
  setStamp,
  stampCells,
  setRule,
  removeRule,
  setReport,
  removeReport,
  acceptFinding,
  withdrawAcceptance,
  renameTable,
  moveColumn,
  moveRows,
  pauseColumn,
  recalculate,
  rereadRows,
  resumeColumn,
  setMode,
  setMetadata,
  setSurroundings,
  tick,
]
const byOp = new Map<string, OperationDefinition<never>>(
  definitions.map((one) => [one.schema.op, one as unknown as OperationDefinition<never>]),
)

/** Names of all operations. */
export const OPERATION_NAMES: readonly string[] = definitions.map(({ schema }) => schema.op)

/** What all operations look like, in the order of their reference. */
export const OPERATION_SCHEMAS: readonly AnyOperationSchema[] = definitions.map(({ schema }) => schema as AnyOperationSchema)

/** An operation that has been read: its definition, ready to be applied. */
export interface ReadOperation {
  readonly operation: JournaledOperation
  /** The columns, and rows of tables, whose cells it is about to change. */
  touches(model: Model): Iterable<ColumnId>
  /** Does it inside a transaction; a refused operation changes nothing. */
  apply(transaction: Transaction): void
}

/**
 * Reads the JSON of an operation.
 *
 * @throws Refusal for an operation that there is not, and for a field that is not as it should be
 */
export function readOperation(json: { readonly op: string }): ReadOperation {
  const definition = byOp.get(json.op)
  if (definition === undefined) {
    const near = nearestName(String(json.op), OPERATION_NAMES)
    const reason = `there is no such operation.${near === undefined ? ` There are: ${OPERATION_NAMES.join(', ')}.` : ` Nearest name: ${near}.`}`
    throw refusal('bad-operation', { place: String(json.op), reason })
  }
  const operation = readOperationOf(definition, json)
  return {
    operation,
    touches: (model) => definition.touches?.(model, operation) ?? [],
    apply: (transaction) => definition.apply(transaction, operation),
  }
}
