import { type Refusal, refusal } from '../../findings/index.js'
import { tokenize } from '../../formula/index.js'
import { VALUE_TYPES } from '../../values/index.js'
import type { ViewLevel, ViewOrder, ViewParameter, ViewTop } from '../schemas/index.js'

type Tokens = ReturnType<typeof tokenize>['tokens']

/**
 * Reads levels written as text: keys separated by commas, each a formula, or `name = formula`.
 *
 * @throws Refusal where a key is missing
 */
export function parseLevels(text: string): ViewLevel[] {
  return splitAtCommas(text).map((part) => {
    const [name, sign] = tokenize(part).tokens
    if (part.trim() === '') throw notRead('The levels', 'keys like "site, month = start_of(taken, \'month\')"', 'nothing')
    if (name?.kind !== 'name' || sign?.kind !== 'sign' || sign.sign !== '=') return { key: part.trim() }
    return { name: name.name, key: part.slice(sign.to).trim() }
  })
}

/**
 * Reads an order written as text: `total desc at site`, or several columns `total desc, mean at site`.
 *
 * @throws Refusal for anything else
 */
export function parseViewOrder(text: string): ViewOrder[] {
  const { tokens, level } = withoutLevel(tokenize(text).tokens)
  const order: ViewOrder[] = []
  for (let at = 0; ; at++) {
    const [name, word] = [tokens[at], tokens[at + 1]]
    if (name?.kind !== 'name') throw notRead('The order', 'columns like "total desc at site"', shown(text, name))
    const isSaid = word?.kind === 'name' && !word.quoted && (word.word === 'asc' || word.word === 'desc')
    order.push({ by: name.name, descending: isSaid && word.word === 'desc', ...level })
    at += isSaid ? 2 : 1
    const comma = tokens[at]
    if (comma === undefined || comma.kind === 'end') return order
    if (comma.kind !== 'sign' || comma.sign !== ',')
      throw notRead('The order', 'columns like "total desc at site"', shown(text, comma))
  }
}

/**
 * Reads which groups are shown, written as text: `5 by total at site`, from the largest; with `asc` behind the column from the
 * smallest.
 *
 * @throws Refusal for anything else
 */
export function parseViewTop(text: string): ViewTop {
  const { tokens, level } = withoutLevel(tokenize(text).tokens)
  const [count, by, name, word, end] = tokens
  const fail = (found: Tokens[number] | undefined): Refusal =>
    notRead('The groups shown', 'a number and a column like "5 by total at site"', shown(text, found))
  if (count?.kind !== 'number' || !Number.isInteger(count.value)) throw fail(count)
  if (by?.kind !== 'name' || by.word !== 'by') throw fail(by)
  if (name?.kind !== 'name') throw fail(name)
  const isSaid = word?.kind === 'name' && !word.quoted && (word.word === 'asc' || word.word === 'desc')
  const last = isSaid ? end : word
  if (last !== undefined && last.kind !== 'end') throw fail(last)
  return { count: count.value, by: name.name, ...(isSaid && word.word === 'asc' && { ascending: true }), ...level }
}

/**
 * Reads a parameter written as text: `season number = 2026`; behind the sign stands the value as it is, without quotes.
 *
 * @throws Refusal for anything else
 */
export function parseViewParameter(text: string): ViewParameter {
  const [name, type, sign] = tokenize(text).tokens
  const fail = (found: Tokens[number] | undefined): Refusal =>
    notRead('The parameter', 'a name, a type and a value like "season number = 2026"', shown(text, found))
  if (name?.kind !== 'name') throw fail(name)
  const known = VALUE_TYPES.find((one) => type?.kind === 'name' && one === type.word)
  if (known === undefined) throw fail(type)
  if (sign?.kind !== 'sign' || sign.sign !== '=') throw fail(sign)
  return { name: name.name, type: known, value: text.slice(sign.to).trim() }
}

/** Tokens before `at level`, where that stands at the end. */
function withoutLevel(tokens: Tokens): { readonly tokens: Tokens; readonly level: { readonly level?: string } } {
  const [at, name] = tokens.slice(-3)
  const isSaid = tokens.length > 3 && at?.kind === 'name' && !at.quoted && at.word === 'at' && name?.kind === 'name'
  return isSaid ? { tokens: tokens.slice(0, -3), level: { level: name.name } } : { tokens, level: {} }
}

/** The parts of a text between the commas that stand in no parentheses. */
export function splitAtCommas(text: string): string[] {
  const parts: string[] = []
  let [depth, from] = [0, 0]
  for (const token of tokenize(text).tokens) {
    if (token.kind !== 'sign') continue
    if (token.sign === '(') depth++
    if (token.sign === ')') depth--
    if (token.sign !== ',' || depth !== 0) continue
    parts.push(text.slice(from, token.from))
    from = token.to
  }
  return [...parts, text.slice(from)]
}

function notRead(place: string, expected: string, found: string): Refusal {
  return refusal('bad-operation', { place, reason: `expected ${expected}, found ${found}.` })
}

function shown(text: string, token: Tokens[number] | undefined): string {
  return token === undefined || token.kind === 'end' ? 'the end' : `"${text.slice(token.from, token.to)}"`
}
