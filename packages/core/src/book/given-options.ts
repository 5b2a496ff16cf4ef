import * as v from 'valibot'
import { refusal } from '../findings/index.js'
import { defaultSurroundings, parseMomentText, type Surroundings, zonedWallClock } from '../values/index.js'
import type { ApplyAsyncOptions, ApplyOptions, EndSignal, Step } from './calls/index.js'
import { Locale, Moment, readGiven, Seed, Text, Zone } from './schemas/index.js'
import type { OpenOptions, WorkbookOptions } from './workbook-options.js'

/** What callers give besides operations, checked as it comes in: a field that is wrong or unknown is refused by name. */

const isFunction = (value: unknown): boolean => typeof value === 'function'
const aFunction = v.custom<(...args: never[]) => unknown>(isFunction, 'expected a function')
const count = v.pipe(v.number(), v.integer(), v.minValue(0))

const work = {
  mostAtOnce: v.optional(v.pipe(v.number(), v.minValue(0))),
  undoLimit: v.optional(v.pipe(v.number(), v.minValue(0)), 1000),
  keep: v.optional(v.custom<NonNullable<WorkbookOptions['keep']>>(isFunction, 'expected a function')),
  onListenerError: v.optional(v.custom<(error: unknown) => void>(isFunction, 'expected a function')),
}
const steps = v.optional(v.array(v.custom<Step>((step) => typeof (step as Step | null)?.operations === 'function')), [])
const workbookOptions = v.strictObject({
  now: v.optional(
    v.union([Text, Moment], 'expected ISO 8601 text, or milliseconds since 1970-01-01 of a time in the years 1 to 9999'),
  ),
  seed: v.optional(Seed),
  zone: v.optional(Zone),
  locale: v.optional(Locale),
  ...work,
})
const openOptions = v.strictObject({ ...work, undo: steps, redo: steps })

/** Reads the options of a new workbook: its surroundings as far as they are given, and the rest with defaults filled in. */
export function readWorkbookOptions(given: WorkbookOptions): {
  readonly surroundings: Partial<Surroundings>
  readonly work: WorkbookOptions & { readonly undoLimit: number }
} {
  const { now, seed, zone, locale, ...rest } = readGiven('the options of the workbook', workbookOptions, given)
  const named = Object.entries({ now: clockOf(now, zone), seed, zone, locale }).filter(([, value]) => value !== undefined)
  return { surroundings: Object.fromEntries(named), work: rest as WorkbookOptions & { readonly undoLimit: number } }
}

function clockOf(now: string | number | undefined, zone: string = defaultSurroundings.zone): number | undefined {
  if (typeof now !== 'string') return now
  const time = parseMomentText(now, zonedWallClock(zone))
  if (!Number.isNaN(time)) return time
  const reason = `expected ISO 8601 text such as 2026-03-14T09:30:00, received ${JSON.stringify(now)}.`
  throw refusal('bad-operation', { place: 'the options of the workbook, field now', reason })
}

/** Reads the options of a workbook that is opened. */
export function readOpenOptions(given: OpenOptions): OpenOptions & Required<Pick<OpenOptions, 'undo' | 'redo'>> {
  return readGiven('the options of the workbook', openOptions, given) as OpenOptions &
    Required<Pick<OpenOptions, 'undo' | 'redo'>>
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
  signal: v.optional(
    v.custom<EndSignal>((value) => typeof value === 'object' && value !== null && 'aborted' in value, 'expected an AbortSignal'),
  ),
  expects: v.optional(count),
  strict: v.optional(v.boolean()),
})

const asyncOptions = v.strictObject({
  ...applyOptions.entries,
  sliceMs: v.optional(v.pipe(v.number(), v.minValue(0)), 12),
})

/** Reads what goes with a call of `applyAsync`. */
export function readAsyncOptions(given: ApplyAsyncOptions): ApplyAsyncOptions & { readonly sliceMs: number } {
  return readGiven('the options of the call', asyncOptions, given) as ApplyAsyncOptions & { readonly sliceMs: number }
}

/** Reads what goes with a call of `apply`. */
export function readApplyOptions<Options extends ApplyOptions>(given: Options): Options {
  return readGiven('the options of the call', applyOptions, given) as Options
}

function isMoment(text: string): boolean {
  return !Number.isNaN(parseMomentText(text))
}
