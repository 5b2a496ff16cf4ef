import { type SetMode, setModeSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const setMode = defineOperation<SetMode>({
  schema: setModeSchema,
  apply: (transaction, operation) => {
    const { engine } = transaction
    transaction.applied.push(operation)
    if (operation.mode === engine.recalculation.mode) return
    transaction.undoWith({ op: 'set-mode', mode: engine.recalculation.mode })
    engine.recalculation.mode = operation.mode
    if (operation.mode === 'live') transaction.toFlush = 'all'
  },
})
