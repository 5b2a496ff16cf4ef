import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Value } from './fields.js'
import { RowId } from './row-ids.js'

const cell = {
  row: field(RowId, 'The id of the row.'),
  column: field(Name, 'The column, which is no calculated one.'),
  value: field(Value, 'What the cell holds from now on; null is blank.'),
}
const typed = v.optional(field(v.boolean(), 'False for a cell of a paused column that goes back to what was not typed.'))

export const setCellsSchema = operationSchema('set-cells', {
  does: 'Types over source cells.',
  fields: { table: field(Name, 'The table.'), cells: field(list(v.strictObject(cell)), 'The cells.') },
  journal: { cells: field(list(v.strictObject({ ...cell, typed })), 'The cells.') },
  examples: [{ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 12.5 }] }],
})

/** Types over source cells. */
export type SetCells = GivenBy<typeof setCellsSchema>
/** The same as journals carry it. */
export type JournaledSetCells = JournaledBy<typeof setCellsSchema>
