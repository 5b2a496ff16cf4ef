import { addDays } from './date/add-days.js'
import { addMonths } from './date/add-months.js'
import { date } from './date/date.js'
import { day } from './date/day.js'
import { dayOfYear } from './date/day-of-year.js'
import { daysBetween } from './date/days-between.js'
import { month } from './date/month.js'
import { now } from './date/now.js'
import { today } from './date/today.js'
import { weekday } from './date/weekday.js'
import { year } from './date/year.js'
import type { FunctionRecord } from './define.js'
import { blankIf } from './logic/blank-if.js'
import { coalesce } from './logic/coalesce.js'
import { ifFunction } from './logic/if.js'
import { ifError } from './logic/if-error.js'
import { abs } from './number/abs.js'
import { ceiling } from './number/ceiling.js'
import { clamp } from './number/clamp.js'
import { cos } from './number/cos.js'
import { exp } from './number/exp.js'
import { floor } from './number/floor.js'
import { isNumber } from './number/is-number.js'
import { ln } from './number/ln.js'
import { mod } from './number/mod.js'
import { number } from './number/number.js'
import { pi } from './number/pi.js'
import { quotient } from './number/quotient.js'
import { radians } from './number/radians.js'
import { round } from './number/round.js'
import { sign } from './number/sign.js'
import { sin } from './number/sin.js'
import { sqrt } from './number/sqrt.js'
import { truncate } from './number/truncate.js'
import { concat } from './text/concat.js'
import { contains } from './text/contains.js'
import { endsWith } from './text/ends-with.js'
import { join } from './text/join.js'
import { left } from './text/left.js'
import { length } from './text/length.js'
import { lower } from './text/lower.js'
import { matches } from './text/matches.js'
import { padStart } from './text/pad-start.js'
import { replace } from './text/replace.js'
import { right } from './text/right.js'
import { splitPart } from './text/split-part.js'
import { startsWith } from './text/starts-with.js'
import { substring } from './text/substring.js'
import { text } from './text/text.js'
import { trim } from './text/trim.js'
import { upper } from './text/upper.js'
import { word } from './text/word.js'

/** Every function of the language, by family and in the order of the reference. */
export const FUNCTIONS: readonly FunctionRecord[] = [
  ...[abs, sign, sqrt, exp, ln, sin, cos, radians, pi, mod, quotient, floor, ceiling, truncate, round, clamp, number, isNumber],
  ...[length, upper, lower, trim, left, right, substring, replace, contains, startsWith, endsWith, splitPart, word, join, concat],
  ...[padStart, matches, text],
  ...[ifFunction, coalesce, blankIf, ifError],
  ...[today, now, date, year, month, day, weekday, dayOfYear, daysBetween, addDays, addMonths],
]

const byName = new Map(FUNCTIONS.map((record) => [record.name, record]))

/** The function of this name, in any case, or undefined. */
export function functionNamed(name: string): FunctionRecord | undefined {
  return byName.get(name.toLowerCase())
}
