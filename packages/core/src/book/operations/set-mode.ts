import * as v from 'valibot'
import { defineOperation } from './define.js'

const shape = v.strictObject({ op: v.literal('set-mode'), mode: v.picklist(['live', 'on-demand']) })

/** Has calculated columns follow every edit at once, or only when `recalculate` asks; live again, everything is calculated. */
export type SetMode = v.InferOutput<typeof shape>

export const setMode = defineOperation<SetMode>({
  op: 'set-mode',
  shape,
  apply: (transaction, operation) => {
    const { engine } = transaction
    transaction.applied.push(operation)
    if (operation.mode === engine.recalculation.mode) return
    transaction.undoWith({ op: 'set-mode', mode: engine.recalculation.mode })
    engine.recalculation.mode = operation.mode
    if (operation.mode === 'live') transaction.toFlush = 'all'
  },
})
