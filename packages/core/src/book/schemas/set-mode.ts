import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'

export const setModeSchema = operationSchema('set-mode', {
  does: 'Lets calculated columns follow every edit at once, or only when `recalculate` asks; live again, everything is calculated.',
  fields: { mode: field(v.picklist(['live', 'on-demand']), 'When calculated columns follow.') },
  examples: [{ op: 'set-mode', mode: 'on-demand' }],
})

/** When calculated columns follow their sources. */
export type SetMode = GivenBy<typeof setModeSchema>
