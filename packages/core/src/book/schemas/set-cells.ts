import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Value } from './fields.js'
import { RowId } from './row-ids.js'

const cell = {
  /** The id of the row. */
  row: RowId,
  /** The column, which is no calculated one. */
  column: Name,
  /** What the cell holds from now on; null is blank. */
  value: Value,
}
const journaledCell = {
  ...cell,
  /** False for a cell of a paused column that goes back to what was not typed. */
  typed: v.optional(v.boolean()),
}

export const setCellsSchema = operationSchema(
  'set-cells',
  {
    /** The table. */
    table: Name,
    /** The cells. */
    cells: list(v.strictObject(cell)),
  },
  {
    /** The cells. */
    cells: list(v.strictObject(journaledCell)),
  },
)

/**
 * Types over source cells.
 *
 * @example
 * { op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 12.5 }] }
 */
export type SetCells = GivenBy<typeof setCellsSchema>
/** The same as journals carry it. */
export type JournaledSetCells = JournaledBy<typeof setCellsSchema>
