import fc from 'fast-check'
import { Workbook } from '../../src/index.js'
import type { FinderTask } from './example-tasks.js'
import { AMOUNTS, CODES, DAYS, type List, MEASURES, MEMBERS, PLACES, tableOf } from './lists.js'

const LISTS = [MEMBERS, PLACES, CODES, DAYS, AMOUNTS, MEASURES]

/** A formula of a list and the columns that it reads. */
interface Part {
  readonly formula: string
  readonly from: readonly string[]
  /** A value that parts rows by the column: who wants a border to be understood gives the rows next to it. */
  readonly border?: number
}

const namesOf = (list: List, ...types: string[]): string[] =>
  list.columns.filter(({ type }) => types.includes(type)).map(({ name }) => name)

const marked = fc.constantFrom("' '", "'-'", "', '", "'/'", "'.'")
const place = fc.constantFrom(1, 2, 3, -1)
const small = fc.constantFrom(2, 3, 5, 7, 10, 12, 100, 0.5, 1.5)

const one = (part: Part, write: (text: string) => string): Part => ({ from: part.from, formula: write(part.formula) })
const two = (a: Part, b: Part, write: (a: string, b: string) => string): Part => ({
  from: [...new Set([...a.from, ...b.from])],
  formula: write(a.formula, b.formula),
})
const columnOf = (names: readonly string[]): fc.Arbitrary<Part> =>
  fc.constantFrom(...names).map((name) => ({ formula: name, from: [name] }))

/** A piece of a text column. */
const pieces = (list: List): fc.Arbitrary<Part> => {
  const column = columnOf(namesOf(list, 'text'))
  return fc.oneof(
    { weight: 1, arbitrary: column },
    { weight: 3, arbitrary: fc.tuple(column, place).map(([part, at]) => one(part, (text) => `word(${text}, ${at})`)) },
    {
      weight: 3,
      arbitrary: fc
        .tuple(column, marked, place)
        .map(([part, mark, at]) => one(part, (text) => `split_part(${text}, ${mark}, ${at})`)),
    },
    {
      weight: 2,
      arbitrary: fc
        .tuple(column, fc.constantFrom('left', 'right'), fc.integer({ min: 1, max: 6 }))
        .map(([part, name, count]) => one(part, (text) => `${name}(${text}, ${count})`)),
    },
  )
}

const texts = (list: List): fc.Arbitrary<Part> => {
  const piece = pieces(list)
  const cased = fc
    .tuple(piece, fc.constantFrom('upper', 'lower', 'title_case', ''))
    .map(([part, name]) => (name === '' ? part : one(part, (text) => `${name}(${text})`)))
  const joined = fc
    .tuple(cased, fc.constantFrom("' '", "', '", "'-'", "' / '", "'_'", "': '"), cased)
    .map(([a, mark, b]) => two(a, b, (left, right) => `${left} & ${mark} & ${right}`))
  return fc.oneof(cased, joined)
}

const numbers = (list: List): fc.Arbitrary<Part> => {
  const names = namesOf(list, 'number', 'integer')
  const plain =
    names.length > 0 ? columnOf(names) : columnOf(namesOf(list, 'text')).map((part) => one(part, (text) => `length(${text})`))
  const withConstant = fc
    .tuple(plain, fc.constantFrom('+', '-', '*', 'per'), small)
    .map(([part, sign, value]) => one(part, (text) => `${text} ${sign} ${value}`))
  const pair = fc
    .tuple(plain, fc.constantFrom('+', '-', '*', 'per'), plain)
    .map(([a, sign, b]) => two(a, b, (left, right) => `${left} ${sign} ${right}`))
  const pairAndConstant = fc
    .tuple(pair, fc.constantFrom('*', '+'), small)
    .map(([part, sign, value]) => one(part, (text) => `(${text}) ${sign} ${value}`))
  const rounded = fc
    .tuple(fc.oneof(withConstant, pair), fc.constantFrom(0, 1))
    .map(([part, digits]) => one(part, (text) => `round(${text}, ${digits})`))
  const distance = fc.tuple(pair).map(([part]) => one(part, (text) => `abs(${text})`))
  return fc.oneof(withConstant, pair, pairAndConstant, rounded, distance)
}

const conditions = (list: List): fc.Arbitrary<Part> =>
  fc
    .tuple(columnOf(namesOf(list, 'number', 'integer')), fc.constantFrom('<', '>'), fc.integer({ min: 1, max: 5 }))
    .map(([part, sign, k]) => {
      const values = list.rows
        .map((row) => row[part.formula])
        .filter((value) => typeof value === 'number')
        .sort((a, b) => a - b)
      const border = values[Math.floor((values.length * k) / 6)] as number
      return { ...one(part, (text) => `if(${text} ${sign} ${border}, 'yes', 'no')`), border }
    })

const dates = (list: List): fc.Arbitrary<Part> => {
  const day = columnOf(namesOf(list, 'date', 'datetime'))
  const number = fc
    .tuple(day, fc.constantFrom('year', 'month', 'day', 'quarter', 'weekday'))
    .map(([part, name]) => one(part, (text) => `${name}(${text})`))
  const shown = fc
    .tuple(day, fc.constantFrom('yyyy-MM', 'd MMM yyyy', 'dd/MM/yyyy', 'EEEE', 'MMMM yyyy'))
    .map(([part, form]) => one(part, (text) => `text(${text}, '${form}')`))
  const off = fc
    .tuple(columnOf(namesOf(list, 'date')), fc.integer({ min: 1, max: 60 }))
    .map(([part, count]) => one(part, (text) => `${text} + ${count}`))
  const begun = fc
    .tuple(columnOf(namesOf(list, 'date')), fc.constantFrom('month', 'year'))
    .map(([part, unit]) => one(part, (text) => `start_of(${text}, '${unit}')`))
  return fc.oneof(number, shown, off, begun)
}

const answers: fc.Arbitrary<Part & { readonly list: List }> = fc.constantFrom(...LISTS).chain((list) => {
  const kinds = [texts(list), numbers(list)]
  if (namesOf(list, 'number', 'integer').length > 0) kinds.push(conditions(list))
  if (namesOf(list, 'date').length > 0) kinds.push(dates(list), dates(list))
  return fc.oneof(...kinds).map((part) => ({ list, ...part }))
})

/**
 * Tasks whose answer is a random small formula that gives something in every row and is not the same everywhere. The rows given
 * are three that differ most: those that a person would take who wants to be understood.
 */
export function randomTasks(count: number, seed: number): FinderTask[] {
  const books = new Map(
    LISTS.map((list) => {
      const book = new Workbook({ now: '2026-11-30' })
      book.apply(tableOf(list))
      return [list, book]
    }),
  )
  const tasks: FinderTask[] = []
  for (let round = 0; tasks.length < count; round++)
    for (const { list, from, formula, border } of fc.sample(answers, { numRuns: 500, seed: seed + round })) {
      const { values } = (books.get(list) as Workbook).evaluate(list.name, formula)
      const near = border === undefined ? [] : nextTo(list, from[0] as string, border)
      const given = tellingRows(values, near)
      if (given === null || tasks.length >= count) continue
      tasks.push({ family: 'codes', wish: formula, list, from, wanted: { wanted: formula }, given })
    }
  return tasks
}

/** Numbers of up to three rows with values, as different as there are; null where values are missing or all alike. */
function tellingRows(values: readonly unknown[], first: readonly number[]): number[] | null {
  const usable = values.flatMap((value, row) =>
    value === null || value === '' || typeof value === 'object' ? [] : [{ value, row }],
  )
  if (usable.length < values.length * 0.75 || new Set(usable.map(({ value }) => value)).size < 2) return null
  const picked = usable.filter(({ row }) => first.includes(row))
  for (const one of usable) if (picked.length < 3 && !picked.some(({ value }) => value === one.value)) picked.push(one)
  for (const one of usable) if (picked.length < 3 && !picked.includes(one)) picked.push(one)
  return picked.map(({ row }) => row + 1).sort((a, b) => a - b)
}

/** Rows whose values lie next to a border: at it, below and above. */
function nextTo(list: List, column: string, border: number): number[] {
  const rows = list.rows.flatMap((row, at) => (typeof row[column] === 'number' ? [{ at, value: row[column] }] : []))
  const [below, above] = [rows.filter(({ value }) => value < border), rows.filter(({ value }) => value > border)]
  const ends = [
    below.sort((a, b) => b.value - a.value)[0],
    rows.find(({ value }) => value === border),
    above.sort((a, b) => a.value - b.value)[0],
  ]
  return ends.flatMap((end) => (end === undefined ? [] : [end.at]))
}
