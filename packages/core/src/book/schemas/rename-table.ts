import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const renameTableSchema = operationSchema('rename-table', {
  /** The table. */
  table: Name,
  /** Its name from now on. */
  to: Name,
})

/**
 * Gives a table another name and rewrites every formula that reads it by name.
 *
 * @example
 * { op: 'rename-table', table: 'hives', to: 'colonies' }
 */
export type RenameTable = GivenBy<typeof renameTableSchema>
