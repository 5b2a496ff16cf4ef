import { nearestName, refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { Model } from '../model/index.js'
import type { AnyOperationSchema, JournaledOperation, Operation } from '../schemas/index.js'
import { readGiven } from '../schemas/index.js'
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
import { removeFunction, renameFunction, setFunction } from './set-function.js'
import { setMetadata } from './set-metadata.js'
import { setMode } from './set-mode.js'
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
  setFunction,
  removeFunction,
  renameFunction,
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
  setMetadata,
  setSurroundings,
  tick,
]
/** An operation that has been read: its definition, ready to be applied. */
export interface ReadOperation {
  readonly operation: JournaledOperation
  /** The columns, and rows of tables, whose cells it is about to change. */
  touches(model: Model, names: Model): Iterable<ColumnId>
  /** Does it inside a transaction; a refused operation changes nothing. */
  apply(transaction: Transaction): void
}

/** Any definition, for the one who only looks it up. */
type AnyDefinition = OperationDefinition<never>

/** The operations that a workbook knows. */
export class OperationSet {
  readonly #byOp: ReadonlyMap<string, AnyDefinition>

  constructor(definitions: readonly unknown[]) {
    this.#byOp = new Map((definitions as readonly AnyDefinition[]).map((one) => [one.schema.op, one]))
  }

  /** The same with some more. */
  with(more: readonly unknown[]): OperationSet {
    return new OperationSet([...this.#byOp.values(), ...more])
  }

  /** Names of all operations. */
  get names(): string[] {
    return [...this.#byOp.keys()]
  }

  /** What they look like, in the order of their reference. */
  get schemas(): AnyOperationSchema[] {
    return Array.from(this.#byOp.values(), ({ schema }) => schema as unknown as AnyOperationSchema)
  }

  /**
   * Checks the JSON of an operation as callers may write it, without what only journals carry.
   *
   * @throws as `read`
   */
  given(json: { readonly op: string }): Operation {
    readGiven(json.op, (this.#definition(json).schema as unknown as AnyOperationSchema).given, json)
    return json as Operation
  }

  /**
   * Reads the JSON of an operation.
   *
   * @throws Refusal for an operation that there is not, and for a field that is not as it should be
   */
  read(json: { readonly op: string }): ReadOperation {
    const definition = this.#definition(json)
    const operation = readOperationOf(definition, json)
    return {
      operation,
      touches: (model, names) => definition.touches?.(model, operation, names) ?? [],
      apply: (transaction) => definition.apply(transaction, operation),
    }
  }

  #definition(json: { readonly op: string }): AnyDefinition {
    const definition = this.#byOp.get(json.op)
    if (definition === undefined) {
      const near = nearestName(String(json.op), this.names)
      const reason = `there is no such operation.${near === undefined ? ` There are: ${this.names.join(', ')}.` : ` Nearest name: ${near}.`}`
      throw refusal('bad-operation', { place: String(json.op), reason })
    }
    return definition
  }
}

/** What every workbook knows: all that calculates. */
export const CALCULATING_OPERATIONS: OperationSet = new OperationSet(definitions)
