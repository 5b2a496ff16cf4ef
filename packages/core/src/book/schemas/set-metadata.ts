import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { JsonValue, Name } from './fields.js'

export const setMetadataSchema = operationSchema('set-metadata', {
  does: 'Notes something that the program around the workbook wants to find in it again, such as the version of its own schema.',
  fields: {
    name: field(Name, 'What it is found by.'),
    value: field(v.nullable(JsonValue), 'Plain JSON; null takes it away.'),
  },
  examples: [{ op: 'set-metadata', name: 'honey-app', value: { schema: 3 } }],
})

/** A note of the program around the workbook. */
export type SetMetadata = GivenBy<typeof setMetadataSchema>
