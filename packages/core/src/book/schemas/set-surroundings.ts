import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Locale, Zone } from './fields.js'

export const setSurroundingsSchema = operationSchema('set-surroundings', {
  does: 'Gives the workbook another zone or language. Stored values stay; what is calculated by them is calculated anew.',
  fields: {
    zone: v.optional(
      field(Zone, 'IANA time zone in which texts with an offset are read from now on, and in which the clock moves.'),
    ),
    locale: v.optional(field(Locale, 'BCP 47 tag for upper and lower case, and for how values are displayed.')),
  },
  examples: [{ op: 'set-surroundings', zone: 'Europe/Oslo', locale: 'en' }],
})

/** Another zone or language. */
export type SetSurroundings = GivenBy<typeof setSurroundingsSchema>
