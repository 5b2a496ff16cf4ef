import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { JsonValue, Name } from './fields.js'

export const setMetadataSchema = operationSchema('set-metadata', {
  /** What it is found by. */
  name: Name,
  /** Plain JSON; null takes it away. */
  value: v.nullable(JsonValue),
})

/**
 * Notes something that the program around the workbook wants to find in it again, such as the version of its own schema.
 *
 * @example
 * { op: 'set-metadata', name: 'honey-app', value: { schema: 3 } }
 */
export type SetMetadata = GivenBy<typeof setMetadataSchema>
