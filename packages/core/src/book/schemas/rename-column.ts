import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const renameColumnSchema = operationSchema('rename-column', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
  /** Its name from now on. */
  to: Name,
})

/**
 * Gives a column another name and rewrites every formula that reads it.
 *
 * @example
 * { op: 'rename-column', table: 'harvests', column: 'honey_kg', to: 'honey' }
 */
export type RenameColumn = GivenBy<typeof renameColumnSchema>
