import { refusal } from '../../findings/index.js'
import { tokenize } from '../../formula/index.js'
import type { FitRequest } from './fit-types.js'

/**
 * Reads what is fitted over what, written as text: `height by time`. A `by` in parentheses belongs to a function.
 *
 * @throws Refusal for anything else
 */
export function parseFit(text: string): Pick<FitRequest, 'y' | 'x'> {
  let depth = 0
  for (const token of tokenize(text).tokens) {
    if (token.kind === 'sign') depth += token.sign === '(' ? 1 : token.sign === ')' ? -1 : 0
    if (token.kind !== 'name' || token.quoted || token.word !== 'by' || depth > 0) continue
    const [y, x] = [text.slice(0, token.from).trim(), text.slice(token.to).trim()]
    if (y !== '' && x !== '') return { y, x }
  }
  const reason = `expected what is fitted and over what, such as "height by time", found ${JSON.stringify(text)}.`
  throw refusal('bad-operation', { place: 'The fit', reason })
}
