import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const removeLinkSchema = operationSchema('remove-link', {
  does: 'Removes a link that no formula follows.',
  fields: { table: field(Name, 'The table whose rows lead somewhere.'), name: field(Name, 'The link.') },
  examples: [{ op: 'remove-link', table: 'harvests', name: 'hive' }],
})

/** Takes a link away. */
export type RemoveLink = GivenBy<typeof removeLinkSchema>
