/**
 * Operations: everything that changes a workbook, as plain JSON. Each file is one operation: its shape, what it refuses, what
 * it does and how it is undone. Start reading at `define.ts`, then `set-cells.ts`.
 * @module
 */
import { nearestName, refusal } from '../../findings/index.js'
import type { Transaction } from '../transaction.js'
import { type AcceptFinding, acceptFinding, type WithdrawAcceptance, withdrawAcceptance } from './accept-finding.js'
import { type AddColumn, addColumn } from './add-column.js'
import { type AddLink, addLink } from './add-link.js'
import { type AddTable, addTable } from './add-table.js'
import { type ChangeColumn, changeColumn } from './change-column.js'
import { type ChangeTable, changeTable } from './change-table.js'
import { type OperationDefinition, readShape } from './define.js'
import { type DetachColumn, detachColumn } from './detach-column.js'
import { type FillColumn, fillColumn } from './fill-column.js'
import { type InsertRows, insertRows } from './insert-rows.js'
import { type MoveColumn, moveColumn } from './move-column.js'
import { type MoveRows, moveRows } from './move-rows.js'
import { type PauseColumn, pauseColumn } from './pause-column.js'
import { type Recalculate, recalculate } from './recalculate.js'
import { type RemoveColumn, removeColumn } from './remove-column.js'
import { type RemoveLink, removeLink } from './remove-link.js'
import { type RemoveRows, removeRows } from './remove-rows.js'
import { type RemoveTable, removeTable } from './remove-table.js'
import { type RenameColumn, renameColumn } from './rename-column.js'
import { type RenameTable, renameTable } from './rename-table.js'
import { type RereadRows, rereadRows } from './reread-rows.js'
import { type ResumeColumn, resumeColumn } from './resume-column.js'
import { type SetCells, setCells } from './set-cells.js'
import { type SetMode, setMode } from './set-mode.js'
import { type RemoveRule, removeRule, type SetRule, setRule } from './set-rule.js'
import { type SetStamp, type StampCells, setStamp, stampCells } from './set-stamp.js'
import { type SetSurroundings, setSurroundings } from './set-surroundings.js'
import { type RemoveTally, removeTally, type SetTally, setTally } from './set-tally.js'
import { type RemoveValue, removeValue, type SetValue, setValue } from './set-value.js'
import { type Tick, tick } from './tick.js'

/** Any operation. */
export type Operation =
  | AddTable
  | ChangeTable
  | RemoveTable
  | AddColumn
  | ChangeColumn
  | RenameColumn
  | RemoveColumn
  | DetachColumn
  | InsertRows
  | RemoveRows
  | SetCells
  | FillColumn
  | AddLink
  | RemoveLink
  | SetValue
  | RemoveValue
  | SetTally
  | RemoveTally
  | SetStamp
  | StampCells
  | SetRule
  | RemoveRule
  | AcceptFinding
  | WithdrawAcceptance
  | RenameTable
  | MoveColumn
  | MoveRows
  | PauseColumn
  | Recalculate
  | RereadRows
  | ResumeColumn
  | SetMode
  | SetSurroundings
  | Tick

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
  setSurroundings,
  tick,
]
const byOp = new Map<string, OperationDefinition<never>>(
  definitions.map((one) => [one.op, one as unknown as OperationDefinition<never>]),
)

/** Names of all operations. */
export const OPERATION_NAMES: readonly string[] = definitions.map((one) => one.op)

/** An operation as callers may write it: fields with defaults can be left out. */
export type OperationInput = Operation | { readonly op: string; readonly [field: string]: unknown }

/** Checks the shape of an operation and applies it inside a transaction; refused operations change nothing. */
export function applyOperation(transaction: Transaction, json: OperationInput): void {
  const definition = byOp.get(json.op)
  if (definition === undefined) {
    const near = nearestName(String(json.op), OPERATION_NAMES)
    const reason = `there is no such operation.${near === undefined ? ` There are: ${OPERATION_NAMES.join(', ')}.` : ` Nearest name: ${near}.`}`
    throw refusal('bad-operation', { place: String(json.op), reason })
  }
  definition.apply(transaction, readShape(definition, json) as never)
}
