import { type Finding, finding } from '../findings/index.js'
import { functionNamed } from '../functions/index.js'
import { foldName, isReservedWord, printName, VALUE_TYPES, type ValueType } from '../values/index.js'
import { type Token, tokenize } from './syntax/index.js'

/** A parameter of an own function as it is written: `part`, or `part: number`. */
export interface WrittenParameter {
  readonly name: string
  /** The type that it is declared with; null where it is found from the formula. */
  readonly type: Exclude<ValueType, 'integer'> | null
}

/** The definition of an own function taken apart; `formulaFrom` is where its formula starts in the text. */
export interface FunctionDefinition {
  readonly name: string
  /** Each as it is written. */
  readonly parameters: readonly string[]
  readonly formula: string
  readonly formulaFrom: number
}

type NotRead = { findings: readonly [Finding, ...Finding[]] }

/** Most parameters of a function: one that takes more is not read any more. */
const MOST_PARAMETERS = 20

/** True for a text that defines a function and no column: a word, and parentheses for its parameters. */
export function definesFunction(text: string): boolean {
  return /^\s*[\p{L}_][\p{L}\p{M}\p{Nd}_]*\s*\(/u.test(text)
}

/** Takes `name(parameter, parameter: type) = formula` apart, or says what is missing. */
export function parseFunction(text: string): FunctionDefinition | NotRead {
  const { tokens } = tokenize(text)
  const near = '"per_hundred(part, whole) = 100 * part per whole"'
  const fail = (found: string, { from, to }: { from: number; to: number }): NotRead => ({
    findings: [finding('unfinished-definition', { near, found }, { from, to })],
  })
  const shown = (token: Token): string => (token.kind === 'end' ? 'nothing more' : `"${text.slice(token.from, token.to)}"`)
  const [name, open] = tokens as [Token, Token?]
  if (name.kind !== 'name') return fail(name.kind === 'end' ? 'nothing' : shown(name), name)
  if (open === undefined || !isSign(open, '(')) return fail(`${shown(open ?? name)} after the name`, open ?? name)
  const parameters: string[] = []
  let at = 2
  for (let token = tokens[at] as Token; !isSign(token, ')'); token = tokens[at] as Token) {
    if (token.kind !== 'name') return fail(`${shown(token)} for a parameter`, token)
    const second = tokens[at + 1] as Token
    // A colon is no sign of formulas, so it is what stands between two words.
    const isTyped = text.slice(token.to, second.from).trim() === ':'
    at += isTyped ? 2 : 1
    const last = isTyped ? second : token
    if (last.kind === 'end') return fail('nothing more', last)
    parameters.push(text.slice(token.from, last.to))
    const next = tokens[at] as Token
    if (isSign(next, ',')) at++
    else if (!isSign(next, ')')) return fail(`${shown(next)} after a parameter`, next)
  }
  const sign = tokens[at + 1] as Token
  if (!isSign(sign, '=')) return fail(sign.kind === 'end' ? 'no "="' : shown(sign), sign)
  const rest = text.slice(sign.to)
  const formulaFrom = sign.to + (rest.length - rest.trimStart().length)
  return { name: name.name, parameters, formula: rest.trim(), formulaFrom }
}

function isSign(token: Token | undefined, sign: string): boolean {
  return token?.kind === 'sign' && token.sign === sign
}

/**
 * Reads the parameters of a function, and says what is wrong with its name or theirs.
 *
 * @returns what is wrong, as the reason of a refusal
 */
export function readParameters(name: string, texts: readonly string[]): readonly WrittenParameter[] | string {
  if (printName(name) !== name) return `a function is called by a plain word, not ${printName(name)}.`
  if (functionNamed(name) !== undefined) return `${name} is a function already.`
  if (texts.length > MOST_PARAMETERS) return `a function takes at most ${MOST_PARAMETERS} parameters.`
  const read: WrittenParameter[] = []
  for (const text of texts) {
    const [, quoted, plain, type] = /^\s*(?:`((?:[^`]|``)+)`|([^:`]+?))\s*(?::\s*(\S+)\s*)?$/.exec(text) ?? []
    const parameter = (quoted?.replaceAll('``', '`') ?? plain)?.normalize('NFC')
    if (parameter === undefined) return `a parameter is a name, or a name and a type like "part: number", not "${text}".`
    if (quoted === undefined && (isReservedWord(parameter) || printName(parameter) !== parameter))
      return `the parameter ${parameter} stands in backticks, since it is no plain word.`
    const known = type === undefined ? null : (VALUE_TYPES.find((one) => one === type && one !== 'integer') ?? undefined)
    if (known === undefined)
      return `there is no type ${type}; there are ${VALUE_TYPES.filter((one) => one !== 'integer').join(', ')}.`
    if (read.some((one) => foldName(one.name) === foldName(parameter)))
      return `two parameters are called ${printName(parameter)}.`
    read.push({ name: parameter, type: known as WrittenParameter['type'] })
  }
  return read
}
