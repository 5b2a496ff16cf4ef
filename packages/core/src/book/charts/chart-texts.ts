import { type Refusal, refusal } from '../../findings/index.js'
import { tokenize } from '../../formula/index.js'
import type { ChartFit, ChartSeries } from '../schemas/index.js'

/** A refusal of what was typed for a chart. */
function unread(reason: string): Refusal {
  return refusal('bad-operation', { place: 'The chart', reason })
}

/**
 * Reads series as they are typed: columns or formulas, each with a name if wanted, separated by commas: `kinetic, all = a + b`.
 *
 * @throws Refusal for a part that says nothing
 */
export function parseChartSeries(text: string): Pick<ChartSeries, 'name' | 'formula'>[] {
  return partsAt(text, ',').map((part) => {
    const { tokens } = tokenize(part)
    const [name, sign] = tokens
    if (part.trim() === '')
      throw unread(`expected names or formulas like "honey_kg, missed = plan - honey_kg", found ${JSON.stringify(text)}.`)
    if (name?.kind !== 'name' || sign?.kind !== 'sign' || sign.sign !== '=') return { formula: part.trim() }
    return { name: name.name, formula: part.slice(sign.to).trim() }
  })
}

/**
 * Reads a fit as it is typed: `height: 2` of degree 2, `height: -4.9, 0, 1.8` with given coefficients.
 *
 * @throws Refusal for anything else
 */
export function parseChartFit(text: string): ChartFit {
  const parts = partsAt(text, ':')
  const [series = '', numbers = '1'] = parts
  const values = numbers.split(',').map((one) => (one.trim() === '' ? Number.NaN : Number(one)))
  if (parts.length > 2 || series.trim() === '' || values.some((value) => !Number.isFinite(value)))
    throw unread(`expected a fit like "height: 2" or "height: -4.9, 0, 1.8", found ${JSON.stringify(text)}.`)
  const [degree] = values
  return values.length === 1
    ? { series: unquoted(series), degree: degree as number }
    : { series: unquoted(series), coefficients: values }
}

const unquoted = (name: string): string => name.trim().replace(/^`(.*)`$/, '$1')

/** A text split at a sign that stands in no parentheses and in no quotes. */
function partsAt(text: string, sign: ',' | ':'): string[] {
  const { tokens } = tokenize(text)
  const parts: string[] = []
  let [depth, from] = [0, 0]
  for (const token of tokens) {
    if (token.kind !== 'sign') continue
    if (token.sign === '(' || token.sign === '[') depth++
    else if (token.sign === ')' || token.sign === ']') depth--
    else if (token.sign === sign && depth === 0) {
      parts.push(text.slice(from, token.from))
      from = token.to
    }
  }
  return [...parts, text.slice(from)]
}
