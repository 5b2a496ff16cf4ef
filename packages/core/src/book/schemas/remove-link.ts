import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeLinkSchema = operationSchema('remove-link', {
  /** The table whose rows lead somewhere. */
  table: Name,
  /** The link. */
  name: Name,
})

/**
 * Removes a link that no formula follows.
 *
 * @example
 * { op: 'remove-link', table: 'harvests', name: 'hive' }
 */
export type RemoveLink = GivenBy<typeof removeLinkSchema>
