import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { isSameName } from '../../formula/index.js'
import { readGiven, Text } from '../schemas/index.js'
import type { SuggestionRequest } from './suggestion.js'

const value = v.union([v.pipe(v.number(), v.finite()), Text, v.boolean(), v.null()])

const requestShape = v.strictObject({
  table: Text,
  from: v.optional(v.pipe(v.array(Text), v.minLength(1))),
  columns: v.pipe(v.array(Text), v.minLength(1), v.maxLength(8)),
  examples: v.pipe(v.array(v.strictObject({ row: v.number(), values: v.record(Text, value) })), v.minLength(1), v.maxLength(5)),
  most: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(20))),
})

/**
 * Reads what formulas are sought for.
 *
 * @throws Refusal for a shape that is wrong, and for values of a column that is not sought
 */
export function readRequest(given: SuggestionRequest): SuggestionRequest {
  const place = 'the request for suggestions'
  const request = readGiven(place, requestShape, given) as SuggestionRequest
  const examples = request.examples.map(({ row, values }) => {
    const known = Object.entries(values).map(([name, wanted]) => {
      const column = request.columns.find((one) => isSameName(one, name))
      if (column === undefined)
        throw refusal('bad-operation', {
          place,
          reason: `an example has a value for ${name}, which is not among the new columns.`,
        })
      return [column, wanted] as const
    })
    return { row, values: Object.fromEntries(known) }
  })
  for (const column of request.columns)
    if (examples.every(({ values }) => (values[column] ?? null) === null))
      throw refusal('bad-operation', { place, reason: `no example says what is wanted for ${column}.` })
  return { ...request, examples }
}
