import * as v from 'valibot'
import type { CellValue, ReadonlyColumn } from '../../columns/index.js'
import { Column } from '../../columns/index.js'
import { isTimeZone, parseDateTimeText } from '../../values/index.js'
import { isNumberArray, type NumberArray } from './number-array.js'
import { blockEntries } from './stored-block.js'

/** What operations carry. A field that is not as it should be is refused by name before anything is changed. */

/** A list that its reader leaves as it is, and so may be read-only where it is given. */
export function list<Item extends v.GenericSchema>(
  item: Item,
): v.GenericSchema<readonly v.InferInput<Item>[], readonly v.InferOutput<Item>[]> {
  return v.array(item)
}

/** Says what something checked by hand looks like as JSON, for the published schema. */
function asJson<Schema extends v.GenericSchema>(schema: Schema, json: Readonly<Record<string, unknown>>) {
  return v.pipe(schema, v.metadata({ json }))
}

/** A text: Unicode, so without half of a character of two units, which no file could keep. */
export const Text = v.pipe(
  v.string(),
  v.check((text) => text.isWellFormed(), 'the text has half of a character (a surrogate without its other half)'),
)

/** A name of a table or column: any text that is not empty. */
export const Name = v.pipe(Text, v.minLength(1, 'a name cannot be empty'), v.maxLength(10_000, 'a name has at most 10 000 signs'))

/** An identity: a whole number from 1. */
export const Id = v.pipe(v.number(), v.safeInteger(), v.minValue(1))

/** The first and the last moment that a date-time can be, in milliseconds since 1970-01-01. */
const [FIRST_MOMENT, LAST_MOMENT] = [parseDateTimeText('0001-01-01T00:00:00'), parseDateTimeText('9999-12-31T23:59:59.999')]

/** A moment of the wall clock, in whole milliseconds since 1970-01-01. */
export const Moment = v.pipe(
  v.number(),
  v.integer(),
  v.check(isMoment, 'expected milliseconds since 1970-01-01, of a time in the years 1 to 9999'),
)

/** True for a moment of the years 1 to 9999. */
export function isMoment(time: number): boolean {
  return time >= FIRST_MOMENT && time <= LAST_MOMENT
}

/** A seed of chance. */
export const Seed = v.pipe(v.number(), v.safeInteger())

/** A time zone of the IANA database. */
export const Zone = v.pipe(
  Text,
  v.check(isTimeZone, ({ input }) => `there is no time zone ${JSON.stringify(input)}; write one like "Europe/Oslo" or "UTC"`),
)

/** A language tag of BCP 47. */
export const Locale = v.pipe(
  Text,
  v.check(isLocale, ({ input }) => `${JSON.stringify(input)} is no language tag; write one like "en" or "pt-BR"`),
)

function isLocale(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1
  } catch {
    // The platform says "no such tag" by throwing.
    return false
  }
}

/** A plain object, as JSON and object literals make them: no list, no map, no set. */
function isRecord(value: unknown): value is Record<string, unknown> {
  if (typeof value !== 'object' || value === null) return false
  const prototype = Object.getPrototypeOf(value) as object | null
  if (prototype === Object.prototype) return true
  // One of another realm, such as a frame or a test runner's, has that realm's `Object.prototype`.
  return prototype === null || (Object.getPrototypeOf(prototype) === null && Object.hasOwn(prototype, 'hasOwnProperty'))
}

/** What a value from outside is, for a message. */
function whatItIs(value: unknown): string {
  if (value === null) return 'null'
  if (Array.isArray(value)) return 'a list'
  if (typeof value !== 'object') return `a ${typeof value}`
  const name = value.constructor?.name ?? 'object'
  return name === 'Object' ? 'an object' : `a ${name}`
}

/** An object as JSON has it, through and through, of bounded depth. */
export const JsonRecord = asJson(
  v.custom<Readonly<Record<string, unknown>>>(
    (given) => isRecord(given) && isJson(given, MOST_DEPTH),
    'expected an object of plain JSON',
  ),
  { type: 'object' },
)

/** Any plain JSON that is not null, of bounded depth. */
export const JsonValue: v.GenericSchema<JsonValue> = asJson(
  v.custom<JsonValue>((given) => given !== null && isJson(given, MOST_DEPTH), 'expected plain JSON'),
  { description: 'Plain JSON.' },
)

/** Any plain JSON that is not null. */
export type JsonValue = string | number | boolean | JsonList | JsonObject

// As interfaces, which name themselves: a type that spells itself out again is too deep where declarations are checked.
interface JsonList extends ReadonlyArray<JsonValue | null> {}
interface JsonObject {
  readonly [name: string]: JsonValue | null
}

const MOST_DEPTH = 20

function isJson(value: unknown, depth: number): boolean {
  if (typeof value === 'string') return value.isWellFormed()
  if (typeof value === 'number') return Number.isFinite(value)
  if (value === null || typeof value === 'boolean') return true
  if (depth === 0) return false
  if (Array.isArray(value)) return value.every((one) => isJson(one, depth - 1))
  return isRecord(value) && Object.entries(value).every(([name, one]) => name.isWellFormed() && isJson(one, depth - 1))
}

/** A cell of a row or block that is given; left out is blank. */
type GivenCell = CellValue | undefined

const anyValue = { description: 'A number, text, true or false, null for blank, or { "misfit": text }.' }
const values = v.custom<readonly GivenCell[]>(
  (given) => Array.isArray(given),
  ({ input }) => `expected a list of values, received ${whatItIs(input)}`,
)

/** One cell. */
export const Value = asJson(
  v.custom<CellValue>((value) => value !== undefined, 'expected a value; blank is null'),
  anyValue,
)

/** Cells of one column, in row order. */
export const Values = asJson(values, { type: 'array', items: anyValue })

/** Rows as records; a column that a row leaves out is blank there. Read in one go: there may be millions. */
export const Rows = asJson(
  v.pipe(
    v.custom<readonly Readonly<Record<string, GivenCell>>[]>(
      (given) => Array.isArray(given),
      ({ input }) => `expected a list of rows, received ${whatItIs(input)}`,
    ),
    v.rawCheck(({ dataset, addIssue }) => {
      if (!dataset.typed) return
      const rows: readonly unknown[] = dataset.value
      const at = rows.findIndex((row) => !isRecord(row))
      if (at < 0) return
      const value = rows[at]
      addIssue({
        message: `expected an object of cells by column, received ${whatItIs(value)}`,
        path: [{ type: 'array', origin: 'value', input: rows as unknown[], key: at, value }],
      })
    }),
  ),
  { type: 'array', items: { type: 'object', additionalProperties: anyValue } },
)

const stored = v.custom<readonly GivenCell[] | NumberArray | Column>(
  (given) => Array.isArray(given) || isNumberArray(given) || given instanceof Column,
  ({ input }) => {
    const isCopy = typeof input === 'object' && input?.constructor.name === 'Column'
    const received = isCopy ? 'a Column of another copy of the library' : whatItIs(input)
    return `expected a list of values, a typed array of numbers, or a Column, received ${received}`
  },
)

const blockOf = <Values>(of: v.GenericSchema<unknown, Values>): v.GenericSchema<Readonly<Record<string, Values>>> =>
  v.pipe(
    v.custom<Readonly<Record<string, Values>>>(
      isRecord,
      ({ input }) => `expected an object of lists by column, received ${whatItIs(input)}`,
    ),
    v.rawTransform<Readonly<Record<string, Values>>, Readonly<Record<string, Values>>>(({ dataset, addIssue, NEVER }) => {
      for (const [name, given] of blockEntries(dataset.value)) {
        const read = v.safeParse(of, given)
        if (read.success) continue
        addIssue({
          message: read.issues[0].message,
          path: [{ type: 'object', origin: 'value', input: dataset.value, key: name, value: given }],
        })
        return NEVER
      }
      return dataset.value as Record<string, Values>
    }),
  )

const blockJson = { type: 'object', additionalProperties: { type: 'array', items: anyValue } }

/** Rows as columns: lists of one length by name. */
export const ValueBlock = asJson(blockOf(values), blockJson)

/** The same, also as typed arrays of numbers (NaN is blank) and as finished storage. */
export const StoredBlock: v.GenericSchema<
  Readonly<Record<string, readonly GivenCell[] | NumberArray | ReadonlyColumn>>,
  Readonly<Record<string, readonly GivenCell[] | NumberArray | Column>>
> = asJson(blockOf(stored), blockJson)

/** Most rows that one call may make: what they take is still in the memory of a small machine. */
export const MOST_NEW_ROWS = 20_000_000
/** Most rows of a table. */
export const MOST_ROWS = 100_000_000

/** How many rows. */
export const RowCount = v.pipe(
  v.number(),
  v.integer(),
  v.minValue(0),
  v.maxValue(MOST_NEW_ROWS, `one operation makes at most ${MOST_NEW_ROWS.toLocaleString('en')} rows`),
)
