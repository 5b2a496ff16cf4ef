import type { AcceptFinding, WithdrawAcceptance } from './accept-finding.js'
import type { AddColumn, JournaledAddColumn } from './add-column.js'
import type { AddLink, JournaledAddLink } from './add-link.js'
import type { AddTable, JournaledAddTable } from './add-table.js'
import type { ChangeColumn, JournaledChangeColumn } from './change-column.js'
import type { ChangeTable } from './change-table.js'
import type { DetachColumn } from './detach-column.js'
import type { FillColumn, JournaledFillColumn } from './fill-column.js'
import type { InsertRows, JournaledInsertRows } from './insert-rows.js'
import type { MoveColumn } from './move-column.js'
import type { JournaledMoveRows, MoveRows } from './move-rows.js'
import type { JournaledPauseColumn, PauseColumn } from './pause-column.js'
import type { Recalculate } from './recalculate.js'
import type { RemoveColumn } from './remove-column.js'
import type { RemoveLink } from './remove-link.js'
import type { RemoveRows } from './remove-rows.js'
import type { RemoveTable } from './remove-table.js'
import type { RenameColumn } from './rename-column.js'
import type { RenameTable } from './rename-table.js'
import type { RereadRows } from './reread-rows.js'
import type { ResumeColumn } from './resume-column.js'
import type { JournaledSetCells, SetCells } from './set-cells.js'
import type { RemoveChart, SetChart } from './set-chart.js'
import type { RemoveFunction, RenameFunction, SetFunction } from './set-function.js'
import type { SetMetadata } from './set-metadata.js'
import type { SetMode } from './set-mode.js'
import type { RemoveReport, SetReport } from './set-report.js'
import type { JournaledSetRule, RemoveRule, SetRule } from './set-rule.js'
import type { JournaledSetStamp, SetStamp, StampCells } from './set-stamp.js'
import type { SetSurroundings } from './set-surroundings.js'
import type { JournaledSetTally, RemoveTally, SetTally } from './set-tally.js'
import type { JournaledSetValue, RemoveValue, SetValue } from './set-value.js'
import type { Tick } from './tick.js'

/** Operations that are written the same by callers and in journals. */
type Plain =
  | ChangeTable
  | RemoveTable
  | RenameTable
  | RenameColumn
  | RemoveColumn
  | MoveColumn
  | DetachColumn
  | ResumeColumn
  | RemoveRows
  | RereadRows
  | RemoveLink
  | RemoveValue
  | RemoveTally
  | RemoveRule
  | SetFunction
  | RemoveFunction
  | RenameFunction
  | SetReport
  | RemoveReport
  | SetChart
  | RemoveChart
  | StampCells
  | SetMode
  | SetMetadata
  | Recalculate
  | SetSurroundings
  | Tick
  | AcceptFinding
  | WithdrawAcceptance

/** Any operation, as callers write it. */
export type Operation =
  | Plain
  | AddTable
  | AddColumn
  | ChangeColumn
  | PauseColumn
  | InsertRows
  | MoveRows
  | SetCells
  | FillColumn
  | AddLink
  | SetValue
  | SetTally
  | SetRule
  | SetStamp

/** Any operation, as journals carry it: with ids, and with what only a step back or forth needs. */
export type JournaledOperation =
  | Plain
  | JournaledAddTable
  | JournaledAddColumn
  | JournaledChangeColumn
  | JournaledPauseColumn
  | JournaledInsertRows
  | JournaledMoveRows
  | JournaledSetCells
  | JournaledFillColumn
  | JournaledAddLink
  | JournaledSetValue
  | JournaledSetTally
  | JournaledSetRule
  | JournaledSetStamp

/** An operation as it comes in from outside, before it is read: an object with its name. */
export interface OperationJson {
  readonly op: string
  readonly [field: string]: unknown
}
