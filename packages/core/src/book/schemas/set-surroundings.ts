import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Locale, Zone } from './fields.js'

export const setSurroundingsSchema = operationSchema('set-surroundings', {
  /** IANA time zone in which texts with an offset are read from now on, and in which the clock moves. */
  zone: v.optional(Zone),
  /** BCP 47 tag for upper and lower case, and for how values are displayed. */
  locale: v.optional(Locale),
})

/**
 * Gives the workbook another zone or language. Stored values stay; what is calculated by them is calculated anew.
 *
 * @example
 * { op: 'set-surroundings', zone: 'Europe/Oslo', locale: 'en' }
 */
export type SetSurroundings = GivenBy<typeof setSurroundingsSchema>
