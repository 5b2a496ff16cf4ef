import { refusal } from '../../findings/index.js'
import { tokenize } from '../../formula/index.js'
import { parseDateText, parseDateTimeText, printDate, printDateTime, printNumber, quoteText } from '../../values/index.js'
import type { QueryParameter } from './query-types.js'

/**
 * A condition with values in place of its `?`, each written as the language writes it.
 *
 * @throws Refusal when there are not as many values as places, or a date is none
 */
export function withParameters(where: string, parameters: readonly QueryParameter[]): string {
  // A `?` inside a text, a name or a comment is part of it; the tokenizer knows.
  const places = tokenize(where).findings.flatMap(({ from }) => (from !== undefined && where[from] === '?' ? [from] : []))
  if (places.length !== parameters.length) {
    const reason = `the condition has ${places.length} places for a value ("?"), received ${parameters.length}.`
    throw refusal('bad-operation', { place: 'the query, field parameters', reason })
  }
  let text = where
  for (const [index, from] of [...places.entries()].reverse())
    text = `${text.slice(0, from)}${written(parameters[index] as QueryParameter)}${text.slice(from + 1)}`
  return text
}

function written(value: QueryParameter): string {
  if (value === null) return 'blank'
  if (typeof value === 'string') return quoteText(value)
  if (typeof value === 'number') return value < 0 ? `(${printNumber(value)})` : printNumber(value)
  if (typeof value === 'boolean') return String(value)
  const [text, number, print] =
    'date' in value
      ? [value.date, parseDateText(value.date), printDate]
      : [value.datetime, parseDateTimeText(value.datetime), printDateTime]
  if (!Number.isNaN(number)) return `@${print(number)}`
  const reason = `expected a date or time in ISO 8601, received ${JSON.stringify(text)}.`
  throw refusal('bad-operation', { place: 'the query, field parameters', reason })
}
