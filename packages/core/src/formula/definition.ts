import { type Finding, finding } from '../findings/index.js'
import { foldName, isReservedWord } from '../values/index.js'
import { tokenize } from './syntax/index.js'

/** A definition taken apart; `formulaFrom` is where the formula starts in the text of the definition. */
export interface Definition {
  /** The table named on the left, if any: `hives.total = …`. */
  readonly table?: string
  readonly name: string
  readonly formula: string
  readonly formulaFrom: number
}

type NotRead = { findings: readonly [Finding, ...Finding[]] }

/** Takes `name = formula` or `table.name = formula` apart, or says what is missing. */
export function parseDefinition(text: string): Definition | NotRead {
  const { tokens, findings } = tokenize(text)
  const [first, dot, second] = tokens
  const isQualified = first?.kind === 'name' && dot?.kind === 'sign' && dot.sign === '.' && second?.kind === 'name'
  const name = isQualified ? second : first
  const sign = tokens[isQualified ? 3 : 1]
  const near = '"total = a + b"'
  const fail = (found: string, from: number, to: number): NotRead => ({
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
  const formulaFrom = sign.to + (rest.length - rest.trimStart().length)
  return { ...(isQualified && { table: first.name }), name: name.name, formula, formulaFrom }
}

/** A link taken apart: `hive -> hives.tag`, `site, lot -> batches.site, batches.lot as batch`. */
export interface LinkDefinition {
  /** The table that the key columns belong to, where it is named. */
  readonly table?: string
  readonly columns: readonly string[]
  readonly to: string
  readonly keys: readonly string[]
  readonly name?: string
}

/** Takes the definition of a link apart, or says what is missing. */
export function parseLink(text: string): LinkDefinition | NotRead {
  const arrow = text.indexOf('->')
  const fail = (found: string, from: number, to: number): NotRead => ({
    findings: [finding('unfinished-definition', { near: '"hive -> hives.tag"', found }, { from, to })],
  })
  if (arrow < 0) return fail('no "->"', 0, text.length)
  const [left, right] = [text.slice(0, arrow), text.slice(arrow + 2)]
  const named = / as +(\S.*)$/i.exec(right)
  const name = named === null ? undefined : pathsOf(named[1] as string)?.[0]?.[0]
  const columns = pathsOf(left)
  const keys = pathsOf(named === null ? right : right.slice(0, named.index))
  if (columns === null) return fail(`"${left.trim()}"`, 0, arrow)
  const target = keys?.[0]?.[0]
  if (keys === null || target === undefined || keys.some((key) => key.length !== 2 || !isSameName(key[0] as string, target)))
    return fail(`"${right.trim()}" behind "->"`, arrow + 2, text.length)
  const table = columns[0]?.length === 2 ? columns[0][0] : undefined
  return {
    ...(table !== undefined && { table }),
    columns: columns.map((path) => path.at(-1) as string),
    to: target,
    keys: keys.map((key) => key[1] as string),
    ...(name !== undefined && { name }),
  }
}

/** Names of one or two parts, separated by commas; null for anything else. */
function pathsOf(text: string): string[][] | null {
  const { tokens, findings } = tokenize(text)
  if (findings.length > 0) return null
  const paths: string[][] = [[]]
  let wantsName = true
  for (const token of tokens) {
    if (token.kind === 'end') break
    if (wantsName !== (token.kind === 'name')) return null
    if (token.kind === 'name') paths.at(-1)?.push(token.name)
    else if (token.kind === 'sign' && token.sign === ',') paths.push([])
    else if (token.kind !== 'sign' || token.sign !== '.') return null
    wantsName = !wantsName
  }
  return wantsName || paths.some((path) => path.length > 2) ? null : paths
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
