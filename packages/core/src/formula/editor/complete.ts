import { callForm, FUNCTIONS, type FunctionRecord, functionNamed, guideOf } from '../../functions/index.js'
import { printUnit } from '../../units/index.js'
import { foldName, printName } from '../../values/index.js'
import { type OwnFunction, ownForm, type Scope, type ScopeColumn, typeWords } from '../check/index.js'
import { type Parsed, parseFormula, type Token, tokenize } from '../syntax/index.js'
import { type Place, placeAt } from './place.js'
import { callAround } from './signature.js'

/** What an offered word is. */
export type CompletionKind = 'column' | 'step' | 'link' | 'tally' | 'value' | 'table' | 'tag' | 'function' | 'keyword' | 'text'

/** A word offered at a place. */
export interface Completion {
  readonly label: string
  readonly kind: CompletionKind
  /** What is put in, with backticks where the name needs them. */
  readonly insert: string
  /** Type, unit, form of a function: what stands beside the word. */
  readonly detail: string
  /** A value of the column, or the first sentence about a function. */
  readonly info: string
}

/** Words offered at a place, best first, and the span they replace. */
export interface Completions {
  readonly from: number
  readonly to: number
  readonly options: readonly Completion[]
}

const KEYWORDS = [
  'and',
  'or',
  'not',
  'between',
  'in',
  'is blank',
  'is error',
  'case when',
  'then',
  'else',
  'end',
  'let',
  'per',
  'true',
  'false',
  'blank',
]
const ROW_KEYWORDS = ['where', 'by', 'order by', 'via', 'below', 'every', 'this.']

/** Offers words at a place of a formula: own columns first, then steps, links, values, functions and words of the language. */
export function completeFormula(text: string, offset: number, scope: Scope): Completions {
  const parsed = parseFormula(text)
  const inText = textAround(text, offset)
  if (inText !== undefined) return completeText(text, offset, inText, scope)
  const place = placeAt(parsed, scope, offset)
  const { token } = place
  if (
    isInComment(text, offset) ||
    (token !== undefined && token.kind !== 'name' && token.kind !== 'tag' && token.kind !== 'sign')
  )
    return { from: offset, to: offset, options: [] }
  const isWord = token !== undefined && (token.kind === 'name' || token.kind === 'tag')
  const from = isWord ? token.from : offset
  const to = isWord ? token.to : offset
  const typed = text.slice(from, offset).replace(/^[`#]/, '')
  const isTag = token?.kind === 'tag' || text[from] === '#' || text[offset - 1] === '#'
  const before = isWord ? place.before : tokenBefore(text, offset)
  const options = isTag
    ? tagOptions(place.level.scope)
    : before?.kind === 'sign' && before.sign === '.'
      ? pathOptions(parsed, place, from)
      : allOptions(place)
  return { from: isTag && text[offset - 1] === '#' && !isWord ? offset - 1 : from, to, options: ranked(options, typed) }
}

function tokenBefore(text: string, offset: number): Token | undefined {
  return tokenize(text).tokens.findLast((token) => token.kind !== 'end' && token.to <= offset)
}

function isInComment(text: string, offset: number): boolean {
  return tokenize(text).comments.some((comment) => offset > comment.from + 1 && offset <= comment.to)
}

function textAround(text: string, offset: number): Token | undefined {
  return tokenize(text).tokens.find((token) => token.kind === 'text' && offset > token.from && offset < token.to)
}

/** Inside a text: the choices of an argument that has some, such as units of time. */
function completeText(text: string, offset: number, token: Token, scope: Scope): Completions {
  const call = callAround(text, offset, scope)
  const record = call === null ? undefined : functionNamed(call.name)
  const isCoded = record?.textRule?.argument === call?.argument
  const options: Completion[] = (isCoded ? (record?.textRule?.choices ?? []) : []).map((choice) => ({
    label: choice,
    kind: 'text',
    insert: choice,
    detail: '',
    info: '',
  }))
  return { from: token.from + 1, to: token.to - 1, options: ranked(options, text.slice(token.from + 1, offset)) }
}

function tagOptions(scope: Scope): Completion[] {
  return [...scope.tagNames()].map((tag) => {
    const columns = scope.tagged(tag).map((column) => printName(column.name))
    return { label: `#${tag}`, kind: 'tag', insert: `#${tag}`, detail: `${columns.length} columns`, info: columns.join(', ') }
  })
}

/** Behind a dot: columns and links of the table that the names before it lead to. */
function pathOptions(parsed: Parsed, place: Place, from: number): Completion[] {
  const names: string[] = []
  const { tokens } = tokenize(parsed.text)
  let at = tokens.findIndex((token) => token.from >= from)
  if (at < 0) at = tokens.length
  for (at -= 1; tokens[at]?.kind === 'sign' && (tokens[at] as Token & { sign: string }).sign === '.'; at -= 2) {
    const name = tokens[at - 1]
    if (name?.kind !== 'name') break
    names.unshift(name.name)
  }
  const [head, ...rest] = names
  if (head === undefined) return []
  const { scope: here, outer } = place.level
  if (foldName(head) === 'book') return [...here.values()].map((value) => singleOption(value.name, 'value', value.type))
  let scope: Scope | undefined =
    foldName(head) === 'this' ? (outer?.scope ?? here) : (here.link(head)?.target ?? here.tableNamed(head))
  for (const name of rest) scope = scope?.link(name)?.target
  if (scope === undefined) return []
  return [
    ...columnOptions(scope),
    ...linkOptions(scope),
    ...[...scope.tallies()].map((one) => singleOption(one.name, 'tally', one.type)),
  ]
}

function allOptions(place: Place): Completion[] {
  const { scope, steps, outer } = place.level
  const word = (label: string): Completion => ({ label, kind: 'keyword', insert: label, detail: '', info: '' })
  return [
    ...columnOptions(scope),
    ...steps.map(
      ({ name }): Completion => ({ label: name, kind: 'step', insert: printName(name), detail: 'named step', info: '' }),
    ),
    ...linkOptions(scope),
    ...[...scope.tallies()].map((one) => singleOption(one.name, 'tally', one.type)),
    ...[...scope.values()].map((one) => singleOption(one.name, 'value', one.type)),
    ...Array.from(scope.functions(), ownOption),
    ...FUNCTIONS.map(functionOption),
    ...[...scope.tableNames()].map(
      (name): Completion => ({ label: name, kind: 'table', insert: printName(name), detail: 'table', info: '' }),
    ),
    ...(outer !== null ? [...KEYWORDS, ...ROW_KEYWORDS] : KEYWORDS).map(word),
  ]
}

function columnOptions(scope: Scope): Completion[] {
  return [...scope.columnNames()].flatMap((name) => {
    const column = scope.column(name)
    return column === undefined ? [] : [columnOption(column)]
  })
}

function columnOption(column: ScopeColumn): Completion {
  const detail = [column.type ?? 'no type yet', column.unit === undefined ? '' : printUnit(column.unit)]
    .filter((part) => part !== '')
    .join(', ')
  return { label: column.name, kind: 'column', insert: printName(column.name), detail, info: column.sample?.() ?? '' }
}

function linkOptions(scope: Scope): Completion[] {
  return [...scope.links()].map(({ name, target }) => ({
    label: name,
    kind: 'link',
    insert: `${printName(name)}.`,
    detail: `link to ${target.table}`,
    info: '',
  }))
}

function singleOption(name: string, kind: 'value' | 'tally', type: string | null): Completion {
  return {
    label: name,
    kind,
    insert: printName(name),
    detail: `${kind === 'value' ? 'named value' : 'tally'}, ${type ?? 'no type yet'}`,
    info: '',
  }
}

/** Results of functions that are of the type of what they are given. */
const RESULTS: Readonly<Record<string, string>> = { T: 'the same type', same: 'the same type', ordered: 'the same type' }

function functionOption(record: FunctionRecord): Completion {
  return {
    label: record.name,
    kind: 'function',
    insert: `${record.name}(`,
    detail: `${callForm(record)} → ${RESULTS[record.result] ?? record.result}`,
    info: guideOf(record).doc,
  }
}

function ownOption(own: OwnFunction): Completion {
  const result = own.result === 'blank' ? '' : ` → ${typeWords(own.result)}`
  const info = own.note ?? `= ${own.body.text}`
  return { label: own.name, kind: 'function', insert: `${own.name}(`, detail: `${ownForm(own)}${result}`, info }
}

/** Keeps what matches inside its words and puts the better matches first; equal ones stay in the order offered. */
function ranked(options: readonly Completion[], typed: string): Completion[] {
  const sought = foldName(typed)
  if (sought === '') return [...options]
  return options
    .map((option) => ({ option, rank: rankOf(foldName(option.label), sought) }))
    .filter(({ rank }) => rank < NO_MATCH)
    .sort((a, b) => a.rank - b.rank)
    .map(({ option }) => option)
}

const NO_MATCH = 4

function rankOf(label: string, sought: string): number {
  if (label === sought) return 0
  const at = label.indexOf(sought)
  if (at < 0) return NO_MATCH
  if (at === 0) return 1
  return /[\p{L}\p{Nd}]/u.test(label[at - 1] as string) ? 3 : 2
}
