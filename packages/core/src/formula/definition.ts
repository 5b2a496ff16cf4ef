import { type Finding, finding } from '../findings/index.js'
import { foldName, isReservedWord } from '../values/index.js'
import { tokenize } from './syntax/index.js'

/** A definition taken apart; `formulaFrom` is where the formula starts in the text of the definition. */
export interface Definition {
  readonly name: string
  readonly formula: string
  readonly formulaFrom: number
}

/** Takes `name = formula` apart, or says what is missing. */
export function parseDefinition(text: string): Definition | { findings: readonly [Finding, ...Finding[]] } {
  const { tokens, findings } = tokenize(text)
  const [name, sign] = tokens
  const near = '"total = a + b"'
  const fail = (found: string, from: number, to: number): { findings: readonly [Finding] } => ({
    findings: [finding('unfinished-definition', { near, found }, { from, to })],
  })
  if (name === undefined || name.kind === 'end') return fail('nothing', 0, text.length)
  if (name.kind !== 'name') return fail(`"${text.slice(name.from, name.to)}"`, name.from, name.to)
  // What is wrong behind the "=" is the formula's own, and found again when that is parsed.
  const fault = findings.find((one) => (one.from ?? 0) < (sign?.kind === 'sign' ? sign.to : name.to))
  if (fault !== undefined) return { findings: [fault] }
  if (!name.quoted && isReservedWord(name.word)) {
    const near = `\`${name.name}\``
    const fixes = [{ title: `Write ${near}`, edits: [{ from: name.from, to: name.to, insert: near }] }]
    return { findings: [finding('reserved-word', { found: `"${name.name}"`, near }, { from: name.from, to: name.to, fixes })] }
  }
  if (sign === undefined || sign.kind !== 'sign' || sign.sign !== '=') {
    const at = sign ?? name
    return fail(at.kind === 'end' ? 'no "="' : `"${text.slice(at.from, at.to)}" after the name`, at.from, at.to)
  }
  const rest = text.slice(sign.to)
  const formula = rest.trim()
  return { name: name.name, formula, formulaFrom: sign.to + (rest.length - rest.trimStart().length) }
}

/**
 * Cuts the text of a formulas file into definitions: an indented line continues the one before, empty lines and lines that
 * are only a comment are skipped.
 *
 * @returns each definition with the number of its first line, from 1
 */
export function splitDefinitions(text: string): { text: string; line: number }[] {
  const definitions: { text: string; line: number }[] = []
  text.split(/\r\n|\n|\r/).forEach((line, index) => {
    if (line.trim() === '' || line.trimStart().startsWith('//')) return
    const last = definitions.at(-1)
    if (/^\s/.test(line) && last !== undefined) last.text += `\n${line}`
    else definitions.push({ text: line.trimEnd(), line: index + 1 })
  })
  return definitions
}

/** True when two names are the same to the language. */
export function isSameName(left: string, right: string): boolean {
  return foldName(left) === foldName(right)
}
