import { refusal } from '../../findings/index.js'
import { type SetSurroundings, setSurroundingsSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const setSurroundings = defineOperation<SetSurroundings>({
  schema: setSurroundingsSchema,
  apply: (transaction, operation) => {
    const { engine } = transaction
    const { zone, locale } = engine.surroundings
    if (operation.zone === undefined && operation.locale === undefined)
      throw refusal('bad-operation', { place: 'set-surroundings', reason: 'give a zone, a locale, or both.' })
    engine.surround({
      ...(operation.zone !== undefined && { zone: operation.zone }),
      ...(operation.locale !== undefined && { locale: operation.locale }),
    })
    if (operation.locale !== undefined && operation.locale !== locale)
      // Only functions of texts go by the language.
      for (const { table, column } of transaction.model.columns())
        if (column.formula !== null) transaction.unbound.set(column, table)
    transaction.applied.push(operation)
    transaction.undoWith({ op: 'set-surroundings', zone, locale })
  },
})
