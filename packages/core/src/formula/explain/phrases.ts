import { type FunctionRecord, functionNamed, isOverRows } from '../../functions/index.js'
import { displayScalar, type Scalar } from '../../values/index.js'
import { isKeywordPart } from '../check/index.js'
import type { Clause, Syntax } from '../syntax/index.js'
import { hasNoun, overRowsPhrase } from './over-rows.js'
import type { PhraseContext } from './phrase-context.js'

/** A part of a formula as an English phrase; what binds looser than its surroundings stands in parentheses. */
export function phrase(node: Syntax, context: PhraseContext): string {
  const say = (part: Syntax): string => phrase(part, context)
  const inner = (part: Syntax): string => (isCompound(part) ? `(${say(part)})` : say(part))
  switch (node.kind) {
    case 'literal':
      return literalText(node.type, node.value)
    case 'name':
      return namePhrase(node)
    case 'tag':
      return `the columns tagged ${node.name}`
    case 'group':
      return say(node.inner)
    case 'unary':
      return node.operator === '+' ? say(node.operand) : `${node.operator === '-' ? 'minus' : 'not'} ${inner(node.operand)}`
    case 'chain':
      return chainPhrase(node, inner)
    case 'power':
      return `${inner(node.base)} to the power of ${inner(node.exponent)}`
    case 'compare':
      return `${inner(node.left)} ${COMPARISONS[node.operator]} ${inner(node.right)}`
    case 'between':
      return `${inner(node.value)} is ${node.negated ? 'not ' : ''}between ${inner(node.low)} and ${inner(node.high)}, both included`
    case 'in':
      return `${inner(node.value)} is ${node.negated ? 'none' : 'one'} of ${node.members.map(inner).join(', ')}`
    case 'is':
      return `${inner(node.value)} is ${node.negated ? 'not ' : ''}${node.what === 'blank' ? 'blank' : 'an error'}`
    case 'call':
      return callPhrase(node, context, inner)
    case 'rated':
      return node.word === 'at'
        ? `${inner(node.value)} with weight ${context.text.slice(node.amount.from, node.amount.to)}`
        : `${inner(node.value)} out of ${context.text.slice(node.amount.from, node.amount.to)}`
    case 'case': {
      const subject = node.subject === null ? '' : `${inner(node.subject)} equals `
      const branches = node.branches.map(({ condition, value }) => `${inner(value)} where ${subject}${say(condition)}`)
      return [...branches, `otherwise ${node.otherwise === null ? 'blank' : inner(node.otherwise)}`].join(', ')
    }
    case 'let':
      return `${say(node.body)}, ${node.name.name} being ${say(node.bound)}`
    case 'missing':
      return '…'
  }
}

const COMPARISONS: Readonly<Record<string, string>> = {
  '=': 'equals',
  '<>': 'differs from',
  '<': 'is less than',
  '<=': 'is at most',
  '>': 'is more than',
  '>=': 'is at least',
}

function isCompound(node: Syntax): boolean {
  if (node.kind === 'group') return isCompound(node.inner)
  if (node.kind === 'call') {
    const record = functionNamed(node.name.name)
    return record !== undefined && isOverRows(record)
  }
  return ['chain', 'power', 'compare', 'between', 'in', 'is', 'case', 'let', 'unary'].includes(node.kind)
}

function literalText(type: (Syntax & { kind: 'literal' })['type'], value: Scalar | null): string {
  if (value === null || type === 'blank') return 'blank'
  return type === 'text' ? JSON.stringify(value) : displayScalar(value, type)
}

function namePhrase(node: Syntax & { kind: 'name' }): string {
  const [head, ...rest] = node.parts
  if (node.every) return rest.length === 0 ? `all rows of ${head.name}` : `${pathPhrase(rest)} of all rows of ${head.name}`
  if (rest.length > 0 && isKeywordPart(head, 'this')) return `this row’s ${pathPhrase(rest)}`
  if (rest.length > 0 && isKeywordPart(head, 'book')) return `the named value ${pathPhrase(rest)}`
  return rest.length === 0 ? head.name : `the ${pathPhrase(node.parts)}`
}

/** `hive.apiary.region` as "region of the apiary of the hive". */
function pathPhrase(parts: readonly { readonly name: string }[]): string {
  return parts
    .map((part) => part.name)
    .reverse()
    .join(' of the ')
}

const PRODUCTS: Readonly<Record<string, string>> = { '*': 'times', '/': 'divided by', per: 'divided by' }

function chainPhrase(node: Syntax & { kind: 'chain' }, inner: (part: Syntax) => string): string {
  const operands = [node.first, ...node.rest.map((link) => link.operand)].map(inner)
  switch (node.level) {
    case 'or':
    case 'and':
      return operands.join(` ${node.level} `)
    case 'default':
      return operands.length === 2
        ? `${operands[0]}, or ${operands[1]} where that is blank`
        : `the first of ${operands.join(', ')} that is not blank`
    case 'join':
      return `${operands.slice(0, -1).join(', ')} and ${operands.at(-1)} joined together`
    case 'sum':
      return operands
        .map((operand, index) =>
          index === 0 ? operand : `${node.rest[index - 1]?.operator === '+' ? 'plus' : 'minus'} ${operand}`,
        )
        .join(' ')
    case 'product': {
      let said = operands[0] as string
      for (const [index, link] of node.rest.entries()) {
        const isLast = index === node.rest.length - 1
        said = `${said} ${PRODUCTS[link.operator]} ${operands[index + 1]}`
        // Left to right: a division followed by more is one thing that is gone on with.
        if (!isLast && link.operator !== '*') said = `(${said})`
      }
      return said
    }
  }
}

/** Functions said in words of their own; the others by name. */
const SAYINGS: Readonly<Record<string, (args: readonly string[]) => string>> = {
  round: ([value, digits]) => `${value} rounded to ${digits === undefined ? 'a whole number' : `${digits} decimal places`}`,
  abs: ([value]) => `the size of ${value} without its sign`,
  sqrt: ([value]) => `the square root of ${value}`,
  upper: ([value]) => `${value} in capitals`,
  lower: ([value]) => `${value} in small letters`,
  title_case: ([value]) => `${value} with a capital at the start of each word`,
  single_spaces: ([value]) => `${value} with single spaces`,
  reverse: ([value]) => `${value} from the last character to the first`,
  pad_start: ([value, length, sign]) =>
    `${value} filled up on the left to ${several(length, 'character', true)} with ${sign ?? 'spaces'}`,
  pad_end: ([value, length, sign]) =>
    `${value} filled up on the right to ${several(length, 'character', true)} with ${sign ?? 'spaces'}`,
  trim: ([value]) => `${value} without the spaces around it`,
  length: ([value]) => `the number of characters of ${value}`,
  left: ([value, count]) => `the first ${several(count, 'character')} of ${value}`,
  right: ([value, count]) => `the last ${several(count, 'character')} of ${value}`,
  contains: ([value, part]) => `${value} contains ${part}`,
  starts_with: ([value, part]) => `${value} starts with ${part}`,
  ends_with: ([value, part]) => `${value} ends with ${part}`,
  join: ([separator, ...values]) => `${values.join(', ')} joined with ${separator} between them, blanks skipped`,
  concat: (values) => `${values.join(', ')} joined together, blanks skipped`,
  coalesce: (values) => `the first of ${values.join(', ')} that is not blank`,
  first_of: (values) => `the first of ${values.join(', ')} that is not blank`,
  if_error: ([value, otherwise]) => `${value}, or ${otherwise} where that is an error`,
  blank_if: ([value, unwanted]) => `${value}, blank where it equals ${unwanted}`,
  if: ([condition, yes, no]) => `${yes} where ${condition}, otherwise ${no}`,
  days_between: ([start, end]) => `the days from ${start} to ${end} (the first day not counted)`,
  year: ([date]) => `the year of ${date}`,
  month: ([date]) => `the month of ${date}`,
  day: ([date]) => `the day of the month of ${date}`,
  weekday: ([date]) => `the weekday of ${date} (Monday is 1)`,
  convert: ([value, unit, from]) => `${value} converted ${from === undefined ? '' : `from ${from} `}to ${unit}`,
  radians: ([angle]) => `${angle} in radians`,
  sin: ([angle]) => `the sine of ${angle}`,
  cos: ([angle]) => `the cosine of ${angle}`,
  floor: ([value]) => `${value} rounded down to a whole number`,
  ceiling: ([value]) => `${value} rounded up to a whole number`,
  mod: ([value, divisor]) => `what is left of ${value} divided by ${divisor}`,
  clamp: ([value, low, high]) => `${value} kept between ${low} and ${high}`,
  number: ([value]) => `${value} read as a number`,
  text: ([value, pattern]) => (pattern === undefined ? `${value} as text` : `${value} written as ${pattern}`),
  substring: ([value, start, count]) => `${several(count, 'character', true)} of ${value} from place ${start} on`,
  replace: ([value, find, by]) => (by === '""' ? `${value} without ${find}` : `${value} with every ${find} replaced by ${by}`),
  split_part: ([value, separator, place]) => `${placed(place, 'piece')} of ${value} cut at ${separator}`,
  word: ([value, place]) => `${placed(place, 'word')} of ${value}`,
  capture: ([value, pattern, group]) =>
    group === undefined
      ? `what the pattern ${pattern} finds in ${value}`
      : `group ${group} of what the pattern ${pattern} finds in ${value}`,
  replace_pattern: ([value, pattern, by]) =>
    by === '""'
      ? `${value} without what the pattern ${pattern} finds`
      : `${value} with all that the pattern ${pattern} finds replaced by ${by}`,
  parse_date: ([value, pattern]) => `the date that ${value} means, written as ${pattern}`,
  matches: ([value, pattern]) => `${value} matches the pattern ${pattern}`,
  add_days: ([date, days]) => `${date} plus ${several(days, 'day', true)}`,
  add_months: ([date, months]) => `${date} plus ${several(months, 'month', true)}`,
  add_years: ([date, years]) => `${date} plus ${several(years, 'year', true)}`,
  add_workdays: ([date, days]) => `${date} plus ${several(days, 'working day', true)}`,
  workdays_between: ([start, end]) => `the working days after ${start} up to ${end}`,
  is_workday: ([date]) => `${date} is a working day`,
  start_of: ([date, unit]) => `the start of the ${plainWord(unit)} of ${date}`,
  end_of: ([date, unit]) => `the end of the ${plainWord(unit)} of ${date}`,
  elapsed: ([start, end, unit]) => `the time from ${start} to ${end} in ${plainWord(unit)}s`,
  quarter: ([date]) => `the quarter of ${date}`,
  week: ([date]) => `the ISO week of ${date}`,
  hour: ([time]) => `the hour of ${time}`,
  today: () => 'today',
  now: () => 'now',
  sum_of: (values) => `the sum of ${values.join(', ')}`,
  mean_of: (values) => `the mean of ${values.join(', ')}`,
  min_of: (values) => `the smallest of ${values.join(', ')}`,
  max_of: (values) => `the largest of ${values.join(', ')}`,
  weighted: (values) => `the weighted sum of ${values.join(', ')}`,
  points_of: (values) => `the points of ${values.join(', ')} per points possible`,
}

/** True for functions that are said in words of their own, so that their name need not be explained. */
export function hasWords(record: FunctionRecord): boolean {
  return Object.hasOwn(SAYINGS, record.name) || hasNoun(record.name)
}

/** `character` for 1 (`1 character` where that is to be said), `3 characters` for others. */
function several(count = '1', noun: string, saysOne = false): string {
  if (count === '1') return saysOne ? `1 ${noun}` : noun
  return `${count} ${noun}s`
}

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh']

/** `the second word`, `the last word`, `word n` for places that are not written out. */
function placed(place = '1', noun: string): string {
  const found = /^\(?(minus )?(\d)\)?$/.exec(place)
  const ordinal = ORDINALS[Number(found?.[2]) - 1]
  if (found === null || ordinal === undefined) return `${noun} ${place}`
  if (found[1] === undefined) return `the ${ordinal} ${noun}`
  return found[2] === '1' ? `the last ${noun}` : `the ${ordinal} ${noun} from the end`
}

/** A unit written out as text, without its quotes. */
function plainWord(text = 'unit'): string {
  return text.replaceAll('"', '')
}

function callPhrase(node: Syntax & { kind: 'call' }, context: PhraseContext, inner: (part: Syntax) => string): string {
  const name = node.name.name.toLowerCase()
  const record = functionNamed(name)
  if (record !== undefined && isOverRows(record)) return overRowsPhrase(node, record, context, (part) => phrase(part, context))
  const args = node.args.map(inner)
  const blanks = node.clauses.some((clause: Clause) => clause.kind === 'blanks as zero')
  const skips = record?.clauses?.includes('blanks as zero') === true
  const suffix = blanks ? ', blanks counted as zero' : skips ? ', blanks skipped' : ''
  const saying = Object.hasOwn(SAYINGS, name) ? SAYINGS[name] : undefined
  return (saying === undefined ? `${name}(${args.join(', ')})` : saying(args)) + suffix
}
