import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { defineOperation } from './define.js'
import { Locale, Zone } from './shapes.js'

const shape = v.strictObject({
  op: v.literal('set-surroundings'),
  /** IANA time zone in which texts with an offset are read from now on, and in which the clock moves. */
  zone: v.optional(Zone),
  /** BCP 47 tag for upper and lower case, and for how values are displayed. */
  locale: v.optional(Locale),
})

/** Gives the workbook another zone or language. Stored values stay; what is calculated by them is calculated anew. */
export type SetSurroundings = v.InferOutput<typeof shape>

export const setSurroundings = defineOperation<SetSurroundings>({
  op: 'set-surroundings',
  shape,
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
