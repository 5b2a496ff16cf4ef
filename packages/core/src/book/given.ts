import * as v from 'valibot'
import { parseDateText, parseDateTimeText, type Surroundings } from '../values/index.js'
import type { GroupQuery } from './group-query.js'
import type { Query } from './query.js'
import { Locale, Moment, Seed, Text, Zone } from './schemas/fields.js'
import { readGiven } from './schemas/read-given.js'
import type { ApplyOptions, WorkbookOptions } from './workbook-options.js'

/** What callers give besides operations, checked as it comes in: a field that is wrong or unknown is refused by name. */

const aFunction = v.custom<(...args: never[]) => unknown>((value) => typeof value === 'function', 'expected a function')
const count = v.pipe(v.number(), v.integer(), v.minValue(0))

const surroundingsShape = v.strictObject({
  now: v.optional(Moment),
  seed: v.optional(Seed),
  zone: v.optional(Zone),
  locale: v.optional(Locale),
})

/** Reads the surroundings of a new workbook. */
export function readSurroundings(given: Partial<Surroundings>): Partial<Surroundings> {
  const read = readGiven('the surroundings', surroundingsShape, given)
  return Object.fromEntries(Object.entries(read).filter(([, value]) => value !== undefined))
}

const workbookOptions = v.strictObject({
  mostAtOnce: v.optional(v.pipe(v.number(), v.minValue(0))),
  undoLimit: v.optional(v.pipe(v.number(), v.minValue(0)), 1000),
  keep: v.optional(aFunction),
  onListenerError: v.optional(aFunction),
})

/** Reads the options of a workbook, with what is not given filled in. */
export function readWorkbookOptions(given: WorkbookOptions): WorkbookOptions & { readonly undoLimit: number } {
  return readGiven('the options of the workbook', workbookOptions, given) as WorkbookOptions & { readonly undoLimit: number }
}

const applyOptions = v.strictObject({
  author: v.optional(Text),
  at: v.optional(
    v.pipe(
      Text,
      v.check(
        isMoment,
        ({ input }) => `expected a date or time in ISO 8601, such as 2026-03-14T09:30:00, received ${JSON.stringify(input)}`,
      ),
    ),
  ),
  progress: v.optional(aFunction),
  expects: v.optional(count),
  strict: v.optional(v.boolean()),
})

/** Reads what goes with a call of `apply`. */
export function readApplyOptions<Options extends ApplyOptions>(given: Options): Options {
  return readGiven('the options of the call', applyOptions, given) as Options
}

const order = v.union([Text, v.array(v.strictObject({ column: Text, descending: v.optional(v.boolean()) }))])

const queryShape = v.strictObject({
  table: Text,
  where: v.optional(Text),
  order: v.optional(order),
  columns: v.optional(v.array(Text)),
  limit: v.optional(count),
})

/** Reads a query. */
export const readQuery = (given: Query): Query => readGiven('the query', queryShape, given) as Query

const groupShape = v.strictObject({
  table: Text,
  by: v.array(Text),
  tallies: v.array(v.strictObject({ name: Text, formula: Text })),
  where: v.optional(Text),
  order: v.optional(order),
  limit: v.optional(count),
})

/** Reads a query of groups. */
export const readGroupQuery = (given: GroupQuery): GroupQuery => readGiven('the query', groupShape, given) as GroupQuery

function isMoment(text: string): boolean {
  return !Number.isNaN(parseDateText(text)) || !Number.isNaN(parseDateTimeText(text))
}
