import type { ValueType } from '../values/index.js'
import { ArithmeticSearch } from './arithmetic.js'
import { choicesOf, truthsOf } from './choices.js'
import type { Grounds } from './conditions.js'
import { datesOfDate, datesOfText, numbersBetween, numbersOfDate, SHIFTS, textsOfDate } from './dates.js'
import { joinedTexts } from './joined-texts.js'
import { fromOtherRows } from './over-rows.js'
import type { Program } from './program.js'
import { simplestNumber } from './simplest-number.js'
import { Smallest } from './smallest.js'
import { Distinct, numbersOn, type Task, textsOn } from './task.js'
import { TextPieces } from './text-pieces.js'
import { isWanted, type Reading } from './wanted.js'

/** Most programs that one search gives: they are then run on all rows. */
const MOST_FOUND = 90
const MOST_JOINED = 40
/** Numbers that are read from texts. */
const MOST_READ = 40
/** A copy of a column says nothing new, so another answer is likelier wanted. */
const COST_OF_COPY = 1.5

/**
 * Programs that give what is wanted in the rows of the examples, the smallest first: a search over typed programs of the language
 * from the small to the large, of which those equal on the rows are kept once.
 */
export function findPrograms(task: Task, reading: Reading): Program[] {
  const found = new Smallest(MOST_FOUND)
  const search = new Search(task, reading, found)
  if (reading.type === 'text') search.texts()
  else if (reading.type === 'number') search.numbers()
  else if (reading.type === 'boolean') search.truths()
  else search.dates()
  return found.list()
}

class Search {
  readonly #task: Task
  readonly #reading: Reading
  readonly #found: Smallest
  /** The columns by what they hold. */
  readonly #columns: readonly Program[]
  readonly #pieces: TextPieces
  readonly #numbers: Map<Program, readonly Program[]> = new Map()

  constructor(task: Task, reading: Reading, found: Smallest) {
    this.#task = task
    this.#reading = reading
    this.#found = found
    this.#pieces = new TextPieces(task)
    this.#columns = task.sources.map(({ program }) => program)
  }

  texts(): void {
    const { writer } = this.#task
    const wanted = this.#reading.values.filter((value) => value !== null) as string[]
    const marks = [...new Set(wanted.flatMap((text) => text.match(/[^\p{L}\p{N}]/gu) ?? []))]
    const isPart = (texts: readonly string[]): boolean => texts.every((text, at) => (wanted[at] as string).includes(text))
    const pieces: Program[] = []
    if (wanted.length === this.#task.examples.count && wanted.every((text) => text !== '')) {
      for (const column of this.#columns) {
        if (column.type === 'text') pieces.push(...this.#pieces.of(column, isPart, marks))
        else if (isDated(column)) pieces.push(...this.#useful(textsOfDate(this.#task, column), isPart))
        else if (column.type !== 'boolean') pieces.push(...this.#useful([...this.#digitsOf(column)], isPart))
      }
      for (const program of joinedTexts(this.#task, pieces, wanted, MOST_JOINED)) this.#found.add(this.#unlessCopy(program))
    }
    const others = fromOtherRows(this.#task, (type) => type === 'text')
    for (const program of others) this.#offer(program)
    const all = [...this.#columns.filter(isText), ...others]
    this.#defaults(all)
    const simple = [...this.#columns.filter(isText), ...pieces.slice(0, 30)]
    for (const program of choicesOf(this.#task, this.#reading, this.#grounds(), simple)) this.#found.add(program)
    for (const column of this.#columns.filter(isText)) this.#offer(writer.call('reverse', [column], COST_OF_COPY))
  }

  numbers(): void {
    const { writer } = this.#task
    const atoms = new Distinct(this.#task)
    for (const column of this.#columns) {
      if (column.type === 'number' || column.type === 'integer') atoms.add(column)
      if (isDated(column)) for (const number of numbersOfDate(this.#task, column)) atoms.add(number)
      if (isText(column)) {
        for (const number of this.#numbersIn(column)) atoms.add(number)
        atoms.add(writer.call('length', [column]))
      }
      if (isDated(column))
        for (const other of this.#columns)
          if (other !== column && isDated(other))
            for (const number of numbersBetween(this.#task, column, other)) atoms.add(number)
    }
    for (const number of fromOtherRows(this.#task, (type) => type === 'number')) atoms.add(number)
    const programs = atoms.list()
    new ArithmeticSearch(this.#task, this.#reading, this.#found).run(programs)
    for (const program of choicesOf(this.#task, this.#reading, this.#grounds(), programs.slice(0, 30))) this.#found.add(program)
  }

  truths(): void {
    for (const program of truthsOf(this.#task, this.#reading, this.#grounds())) this.#found.add(program)
  }

  dates(): void {
    const { writer } = this.#task
    const dates = this.#columns.filter(isDated)
    const texts = this.#columns.filter(isText)
    const others = fromOtherRows(this.#task, isTime)
    for (const text of texts) {
      const pieces = [
        text,
        ...this.#pieces.of(text, (cut) => cut.every((one) => /\d/.test(one) && one.length >= 6), []).slice(0, 25),
      ]
      for (const piece of pieces) for (const program of datesOfText(this.#task, piece)) this.#offer(program)
    }
    const derived = dates.flatMap((date) => datesOfDate(this.#task, date))
    for (const program of [...dates, ...derived, ...others]) this.#offer(this.#unlessCopy(program))
    for (const date of [...dates, ...derived]) this.#shifted(date)
    for (const date of dates)
      for (const { program } of this.#task.sources)
        if (program.type === 'integer' || program.type === 'number') {
          this.#offer(writer.arithmetic('+', date, program, date.type))
          this.#offer(writer.arithmetic('-', date, program, date.type))
          for (const { name } of SHIFTS) this.#offer(writer.call(name, [date, program], 0.2, date.type))
        }
    this.#defaults([...dates, ...others])
    for (const name of ['max_of', 'min_of'])
      for (const one of dates)
        for (const other of dates)
          if (one.text < other.text && one.type === other.type) this.#offer(writer.call(name, [one, other]))
    for (const program of choicesOf(this.#task, this.#reading, this.#grounds(), [...dates, ...derived])) this.#found.add(program)
  }

  /** A date some days, months or years off. */
  #shifted(date: Program): void {
    const { writer, examples } = this.#task
    const numbers = numbersOn(date, examples)
    const wanted = this.#reading.values
    const rows = wanted.flatMap((value, row) => (value === null ? [] : [row]))
    const [first] = rows
    if (first === undefined || rows.some((row) => !Number.isFinite(numbers[row]))) return
    const perDay = date.type === 'datetime' ? 86_400_000 : 1
    if (date.type !== this.#reading.type) return
    const off = ((wanted[first] as number) - (numbers[first] as number)) / perDay
    const days = simplestNumber(off, off)
    if (days === null || days === 0) return
    const size = writer.constant(Math.abs(days))
    this.#offer(writer.arithmetic(days > 0 ? '+' : '-', date, size, date.type).at(date.cost + size.cost + 0.8))
    for (const { name, days: each } of SHIFTS)
      for (const count of new Set([Math.floor(off / each), Math.round(off / each), Math.ceil(off / each)]))
        if (count !== 0) this.#offer(writer.call(name, [date, writer.constant(count)], 0, date.type))
  }

  /** What conditions are made of. */
  #grounds(): Grounds {
    const numbers = new Distinct(this.#task)
    for (const column of this.#columns) {
      if (column.type === 'number' || column.type === 'integer' || column.type === 'date') numbers.add(column)
      if (isDated(column)) for (const number of numbersOfDate(this.#task, column)) numbers.add(number)
      if (isText(column)) {
        for (const number of this.#numbersIn(column).slice(0, 6)) numbers.add(number)
        numbers.add(this.#task.writer.call('length', [column], 0.6))
      }
    }
    return { numbers: numbers.list(), texts: this.#columns.filter(isText) }
  }

  /** Numbers that stand in a text. */
  #numbersIn(column: Program): readonly Program[] {
    const known = this.#numbers.get(column)
    if (known !== undefined) return known
    const { writer, examples } = this.#task
    const isNumber = (texts: readonly string[]): boolean => texts.every((text) => /^-?\d[\d,.]*$|^-?\.\d+$/.test(text.trim()))
    const pieces = this.#pieces.of(column, isNumber, [])
    const numbers = new Distinct(this.#task)
    for (const piece of pieces.slice(0, 2 * MOST_READ)) {
      const number = writer.call('number', [piece])
      if (numbersOn(number, examples).every(Number.isFinite)) numbers.add(number)
    }
    const list = numbers.list().slice(0, MOST_READ)
    this.#numbers.set(column, list)
    return list
  }

  /** A number as text: as it is shown, with zeros before it, with so many digits. */
  *#digitsOf(column: Program): Generator<Program> {
    const { writer } = this.#task
    yield writer.shown(column)
    const text = writer.call('text', [column])
    for (const length of [2, 3, 4, 5, 6, 8])
      yield writer.call('pad_start', [text, writer.constant(length), writer.constant('0').at(0.3)])
    for (const pattern of ['0.0', '0.00', '#,##0', '#,##0.00', '0%', '0.0%', '0', '0.000'])
      yield writer.call('text', [column, writer.constant(pattern).at(0.6 + 0.04 * pattern.length)])
  }

  #useful(programs: readonly Program[], isPart: (texts: readonly string[]) => boolean): Program[] {
    const kept = new Distinct(this.#task)
    for (const program of programs) {
      const texts = textsOn(program, this.#task.examples)
      if (texts?.every((text) => text !== '') && isPart(texts)) kept.add(program)
    }
    return kept.list()
  }

  /** One of two, where the first is blank; or a value then. */
  #defaults(programs: readonly Program[]): void {
    const { writer, examples } = this.#task
    for (const left of programs) {
      const { status } = left.on(examples)
      const blank = [...status].flatMap((one, row) => (one === 1 ? [row] : []))
      if (blank.length === 0 || blank.length === examples.count) continue
      for (const right of programs) if (right !== left && right.type === left.type) this.#offer(writer.orElse(left, right))
      const value = this.#reading.values[blank[0] as number]
      if (value !== null && value !== undefined) this.#offer(writer.orElse(left, writer.constant(value, left.type)))
    }
  }

  #unlessCopy(program: Program): Program {
    return this.#columns.includes(program) ? program.at(program.cost + COST_OF_COPY) : program
  }

  /** Takes a program if it gives what is wanted. */
  #offer(program: Program): void {
    const { kind, values, status } = program.on(this.#task.examples)
    for (const at of this.#reading.values.keys()) {
      const value = status[at] === 1 ? null : status[at] === 0 ? (values[at] as number | string) : undefined
      if (value === undefined || !isWanted(this.#reading, at, kind === 'boolean' ? value === 1 : value)) return
    }
    this.#found.add(program)
  }
}

function isText({ type }: Program): boolean {
  return type === 'text'
}

function isDated({ type }: Program): boolean {
  return isTime(type)
}

function isTime(type: ValueType): boolean {
  return type === 'date' || type === 'datetime'
}
