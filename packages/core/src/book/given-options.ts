import * as v from 'valibot'
import { parseDateText, parseDateTimeText, type Surroundings } from '../values/index.js'
import type { ApplyOptions } from './calls/index.js'
import { Locale, Moment, readGiven, Seed, Text, Zone } from './schemas/index.js'
import type { WorkbookOptions } from './workbook-options.js'

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

function isMoment(text: string): boolean {
  return !Number.isNaN(parseDateText(text)) || !Number.isNaN(parseDateTimeText(text))
}
