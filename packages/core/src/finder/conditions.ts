import { makeVector } from '../columns/index.js'
import { printDate, printNumber, quoteText, Status } from '../values/index.js'
import { Level, Program } from './program.js'
import { costOfNumber, simplestNumber } from './simplest-number.js'
import { numbersOn, type Task, textsOn } from './task.js'

/** A number or date that parts rows into those below and those above it. */
interface Border {
  readonly value: number
  /** True where the value itself is on the upper side. */
  readonly isUpper: boolean
  readonly cost: number
}

const COST_OF_CONDITION = 0.8
/** What a value of an example is worth as a border: people give the one that just is, or just is not. */
const OF_EXAMPLES = 0.4
const WITH_OTHERS = 0.3
/** Most pairs of columns that are compared. */
const MOST_COMPARED = 8

/** What conditions are made of: numbers and dates, and texts. */
export interface Grounds {
  readonly numbers: readonly Program[]
  readonly texts: readonly Program[]
}

/**
 * Conditions that are true in some examples and not in the others: limits, comparisons of two columns, words in texts, certain
 * values, blanks.
 *
 * @param sides - what the condition is to be in the rows of the examples; null where it does not matter
 */
export function conditionsFor(task: Task, sides: readonly (boolean | null)[], grounds: Grounds): Program[] {
  if (!sides.includes(true) || !sides.includes(false)) return []
  const found: Program[] = []
  for (const number of grounds.numbers) found.push(...limitsOf(task, number, sides))
  for (const text of grounds.texts) found.push(...wordsOf(task, text, sides))
  for (const { program } of task.sources) {
    const blank = blankness(program)
    if (holds(task, blank, sides)) found.push(blank)
    if (program.type === 'boolean' && holds(task, program, sides)) found.push(program)
  }
  const few = grounds.numbers.slice(0, MOST_COMPARED)
  for (const left of few)
    for (const right of few) {
      if (left === right || kindOf(left) !== kindOf(right)) continue
      for (const operator of ['>', '>='] as const) {
        const compared = comparison(task, left, operator, right)
        if (holds(task, compared, sides)) found.push(compared)
      }
    }
  return found.map((program) => program.at(program.cost + unevenness(task, program)))
}

/** Borders between neighbouring groups of examples by a number, the likeliest first; null when their numbers overlap. */
export function bordersBetween(task: Task, number: Program, groups: readonly (readonly number[])[]): Border[][] | null {
  const numbers = numbersOn(number, task.examples)
  const ends = groups.map((rows) => rows.map((row) => numbers[row] as number))
  if (ends.some((values) => values.some((value) => !Number.isFinite(value)))) return null
  const borders: Border[][] = []
  for (let at = 1; at < ends.length; at++) {
    const [below, above] = [ends[at - 1] as number[], ends[at] as number[]]
    if (Math.max(...below) >= Math.min(...above)) return null
    borders.push(bordersIn(below, above, kindOf(number)))
  }
  return borders
}

function bordersIn(below: readonly number[], above: readonly number[], kind: Kind): Border[] {
  const [low, high] = [Math.max(...below), Math.min(...above)]
  const worth = (count: number, value: number): number =>
    kind === 'number' && !isRound(value) ? 0 : OF_EXAMPLES + (count > 1 ? WITH_OTHERS : 0)
  const cost = (value: number): number => (kind === 'number' ? costOfNumber(value) : 1)
  const borders: Border[] = [
    { value: high, isUpper: true, cost: cost(high) - worth(above.length, high) },
    { value: low, isUpper: false, cost: cost(low) - worth(below.length, low) },
  ]
  const gap = high - low
  const between = kind === 'number' ? simplestNumber(low + gap * 1e-9, high - gap * 1e-9) : null
  if (between !== null) borders.push({ value: between, isUpper: true, cost: cost(between) })
  return borders.sort((a, b) => a.cost - b.cost)
}

/** True for whole numbers of one or two digits, and such with zeros behind them. */
function isRound(value: number): boolean {
  return Number.isInteger(value) && /^-?\d\d?0*$/.test(String(value))
}

type Kind = 'number' | 'date' | 'datetime'

function kindOf({ type }: Program): Kind {
  return type === 'date' || type === 'datetime' ? type : 'number'
}

/** A number is above or below a border. */
export function beyond(task: Task, number: Program, { value, isUpper, cost }: Border, isAbove: boolean): Program {
  const operator = isAbove ? (isUpper ? '>=' : '>') : isUpper ? '<' : '<='
  const kind = kindOf(number)
  const text = kind === 'date' ? `@${printDate(value)}` : printNumber(value)
  return task.writer.condition(
    `${number.within(Level.join)} ${operator} ${text}`,
    COST_OF_CONDITION + cost,
    [number],
    (row, [vector]) => {
      const own = vector?.values[row] as number
      return operator === '>=' ? own >= value : operator === '>' ? own > value : operator === '<' ? own < value : own <= value
    },
  )
}

function* limitsOf(task: Task, number: Program, sides: readonly (boolean | null)[]): Generator<Program> {
  if (kindOf(number) === 'datetime') return
  const rowsOf = (side: boolean): number[] => sides.flatMap((one, row) => (one === side ? [row] : []))
  const [yes, no] = [rowsOf(true), rowsOf(false)]
  for (const border of bordersBetween(task, number, [no, yes])?.[0] ?? []) yield beyond(task, number, border, true)
  for (const border of bordersBetween(task, number, [yes, no])?.[0] ?? []) yield beyond(task, number, border, false)
  const numbers = numbersOn(number, task.examples)
  const values = new Set(yes.map((row) => numbers[row] as number))
  const [only] = values
  if (
    values.size === 1 &&
    only !== undefined &&
    Number.isFinite(only) &&
    kindOf(number) === 'number' &&
    no.every((row) => numbers[row] !== only)
  )
    yield task.writer.condition(
      `${number.within(Level.join)} = ${printNumber(only)}`,
      COST_OF_CONDITION + costOfNumber(only) + 0.2,
      [number],
      (row, [vector]) => vector?.values[row] === only,
    )
}

/** What texts of one side have and those of the other have not: a beginning, an end, a word, or they are one text. */
function* wordsOf(task: Task, text: Program, sides: readonly (boolean | null)[]): Generator<Program> {
  const texts = textsOn(text, task.examples)
  if (texts === null) return
  const yes = texts.filter((_, row) => sides[row] === true)
  const no = texts.filter((_, row) => sides[row] === false)
  const [first = ''] = yes
  const say = (form: string, word: string, cost: number, isTrue: (own: string) => boolean): Program | null => {
    if (word === '' || !yes.every(isTrue) || no.some(isTrue)) return null
    return task.writer.condition(
      form,
      cost + 0.02 * word.length,
      [text],
      (row, [vector]) => vector?.kind === 'text' && isTrue(vector.values[row] as string),
    )
  }
  const call = (name: string, word: string): string => `${name}(${text.text}, ${quoteText(word)})`
  const offers = [
    say(`${text.within(Level.join)} = ${quoteText(first)}`, first, COST_OF_CONDITION + 0.5, (own) => own === first),
    ...beginningsOf(first).map((word, at) => say(call('starts_with', word), word, 1.6 + 0.1 * at, (own) => own.startsWith(word))),
    ...wordsIn(first).map((word, at) => say(call('contains', word), word, 1.6 + 0.05 * at, (own) => own.includes(word))),
    ...endsOf(first).map((word, at) => say(call('ends_with', word), word, 1.7 + 0.1 * at, (own) => own.endsWith(word))),
  ]
  for (const offer of offers) if (offer !== null) yield offer
}

function wordsIn(text: string): string[] {
  return [...new Set([...(text.match(/[\p{L}\p{N}]+/gu) ?? []), ...(text.match(/[\p{L}\p{N}]+ [\p{L}\p{N}]+/gu) ?? [])])].filter(
    (word) => word.length > 1,
  )
}

function beginningsOf(text: string): string[] {
  const word = /^[\p{L}\p{N}]+/u.exec(text)?.[0] ?? ''
  const letters = /^\p{L}+/u.exec(text)?.[0] ?? ''
  return [...new Set([word, letters, text.slice(0, 1), text.slice(0, 2)])]
}

function endsOf(text: string): string[] {
  const marked = /[^\p{L}\p{N}\s][\p{L}\p{N}]+$/u.exec(text)?.[0] ?? ''
  const word = /[\p{L}\p{N}]+$/u.exec(text)?.[0] ?? ''
  return [...new Set([marked, word, text.slice(-1)])]
}

/** A program gives a blank. */
function blankness(program: Program): Program {
  return new Program({
    ...{ text: `${program.within(Level.join)} is blank`, level: Level.join, type: 'boolean' },
    cost: COST_OF_CONDITION + program.cost,
    compute: (sheet) => {
      const out = makeVector('boolean', sheet.count)
      const { status } = program.on(sheet)
      for (let row = 0; row < sheet.count; row++) {
        out.status[row] = Status.value
        out.values[row] = status[row] === Status.blank ? 1 : 0
      }
      return out
    },
  })
}

function comparison(task: Task, left: Program, operator: '>' | '>=', right: Program): Program {
  return task.writer.condition(
    `${left.within(Level.join)} ${operator} ${right.within(Level.join)}`,
    COST_OF_CONDITION,
    [left, right],
    (row, [a, b]) => {
      const [one, other] = [a?.values[row] as number, b?.values[row] as number]
      return operator === '>' ? one > other : one >= other
    },
  )
}

/** True when a condition is what it is to be in the rows of the examples. */
function holds(task: Task, condition: Program, sides: readonly (boolean | null)[]): boolean {
  const { status, values } = condition.on(task.examples)
  return sides.every((side, row) => side === null || (status[row] === 0 && (values[row] === 1) === side))
}

/** What a condition loses for being true in few other rows, or in nearly all: it says little then. */
function unevenness({ others }: Task, condition: Program): number {
  if (others.count === 0) return 0
  const { status, values } = condition.on(others)
  let met = 0
  for (let row = 0; row < others.count; row++) if (status[row] === 0 && values[row] === 1) met++
  const share = met / others.count
  return 0.8 * (1 - 4 * share * (1 - share))
}
