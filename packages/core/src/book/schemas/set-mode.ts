import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'

export const setModeSchema = operationSchema('set-mode', {
  /** When calculated columns follow. */
  mode: v.picklist(['live', 'on-demand']),
})

/**
 * Lets calculated columns follow every edit at once, or only when `recalculate` asks; live again, everything is calculated.
 *
 * @example
 * { op: 'set-mode', mode: 'on-demand' }
 */
export type SetMode = GivenBy<typeof setModeSchema>
