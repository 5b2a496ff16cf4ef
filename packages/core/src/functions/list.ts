import { allOf } from './across/all-of.js'
import { anyOf } from './across/any-of.js'
import { countOf } from './across/count-of.js'
import { firstOf } from './across/first-of.js'
import { maxOf } from './across/max-of.js'
import { meanOf } from './across/mean-of.js'
import { medianOf } from './across/median-of.js'
import { minOf } from './across/min-of.js'
import { pointsOf } from './across/points-of.js'
import { sumOf } from './across/sum-of.js'
import { weighted } from './across/weighted.js'
import { allTrue } from './aggregate/all.js'
import { anyTrue } from './aggregate/any.js'
import { correlation } from './aggregate/correlation.js'
import { count } from './aggregate/count.js'
import { countDistinct } from './aggregate/count-distinct.js'
import { first } from './aggregate/first.js'
import { intercept } from './aggregate/intercept.js'
import { joinRows } from './aggregate/join-rows.js'
import { last } from './aggregate/last.js'
import { lookup } from './aggregate/lookup.js'
import { max } from './aggregate/max.js'
import { mean } from './aggregate/mean.js'
import { median } from './aggregate/median.js'
import { min } from './aggregate/min.js'
import { mode } from './aggregate/mode.js'
import { percentile } from './aggregate/percentile.js'
import { polynomial } from './aggregate/polynomial.js'
import { rSquared } from './aggregate/r-squared.js'
import { share } from './aggregate/share.js'
import { slope } from './aggregate/slope.js'
import { stdev } from './aggregate/stdev.js'
import { sum } from './aggregate/sum.js'
import { variance } from './aggregate/variance.js'
import { addDays } from './date/add-days.js'
import { addMonths } from './date/add-months.js'
import { addWorkdays } from './date/add-workdays.js'
import { addYears } from './date/add-years.js'
import { date } from './date/date.js'
import { dateOf } from './date/date-of.js'
import { datetime } from './date/datetime.js'
import { day } from './date/day.js'
import { dayOfYear } from './date/day-of-year.js'
import { daysBetween } from './date/days-between.js'
import { daysInMonth } from './date/days-in-month.js'
import { elapsed } from './date/elapsed.js'
import { endOf } from './date/end-of.js'
import { hour } from './date/hour.js'
import { isWorkday } from './date/is-workday.js'
import { isoYear } from './date/iso-year.js'
import { minute } from './date/minute.js'
import { month } from './date/month.js'
import { monthsBetween } from './date/months-between.js'
import { now } from './date/now.js'
import { parseDate } from './date/parse-date.js'
import { quarter } from './date/quarter.js'
import { second } from './date/second.js'
import { startOf } from './date/start-of.js'
import { today } from './date/today.js'
import { week } from './date/week.js'
import { weekday } from './date/weekday.js'
import { workdaysBetween } from './date/workdays-between.js'
import { year } from './date/year.js'
import { yearsBetween } from './date/years-between.js'
import type { FunctionRecord } from './define.js'
import { blankIf } from './logic/blank-if.js'
import { coalesce } from './logic/coalesce.js'
import { ifFunction } from './logic/if.js'
import { ifError } from './logic/if-error.js'
import { abs } from './number/abs.js'
import { acos } from './number/acos.js'
import { asin } from './number/asin.js'
import { atan } from './number/atan.js'
import { atan2 } from './number/atan2.js'
import { ceiling } from './number/ceiling.js'
import { clamp } from './number/clamp.js'
import { convert } from './number/convert.js'
import { cos } from './number/cos.js'
import { cosh } from './number/cosh.js'
import { degrees } from './number/degrees.js'
import { e } from './number/e.js'
import { exp } from './number/exp.js'
import { factorial } from './number/factorial.js'
import { floor } from './number/floor.js'
import { gcd } from './number/gcd.js'
import { isNumber } from './number/is-number.js'
import { lcm } from './number/lcm.js'
import { ln } from './number/ln.js'
import { log } from './number/log.js'
import { log2 } from './number/log2.js'
import { log10 } from './number/log10.js'
import { mod } from './number/mod.js'
import { number } from './number/number.js'
import { pi } from './number/pi.js'
import { power } from './number/power.js'
import { quotient } from './number/quotient.js'
import { radians } from './number/radians.js'
import { random } from './number/random.js'
import { randomBetween } from './number/random-between.js'
import { round } from './number/round.js'
import { roundDown } from './number/round-down.js'
import { roundTo } from './number/round-to.js'
import { roundUp } from './number/round-up.js'
import { sign } from './number/sign.js'
import { sin } from './number/sin.js'
import { sinh } from './number/sinh.js'
import { sqrt } from './number/sqrt.js'
import { tan } from './number/tan.js'
import { tanh } from './number/tanh.js'
import { truncate } from './number/truncate.js'
import { cumulativeCount } from './ordered/cumulative-count.js'
import { cumulativeMax } from './ordered/cumulative-max.js'
import { cumulativeMean } from './ordered/cumulative-mean.js'
import { cumulativeMin } from './ordered/cumulative-min.js'
import { cumulativeSum } from './ordered/cumulative-sum.js'
import { denseRank } from './ordered/dense-rank.js'
import { derivative } from './ordered/derivative.js'
import { difference } from './ordered/difference.js'
import { integral } from './ordered/integral.js'
import { lag } from './ordered/lag.js'
import { lead } from './ordered/lead.js'
import { movingMean } from './ordered/moving-mean.js'
import { movingSum } from './ordered/moving-sum.js'
import { rank } from './ordered/rank.js'
import { rowNumber } from './ordered/row-number.js'
import { capture } from './text/capture.js'
import { concat } from './text/concat.js'
import { contains } from './text/contains.js'
import { endsWith } from './text/ends-with.js'
import { join } from './text/join.js'
import { left } from './text/left.js'
import { length } from './text/length.js'
import { lower } from './text/lower.js'
import { matches } from './text/matches.js'
import { padEnd } from './text/pad-end.js'
import { padStart } from './text/pad-start.js'
import { position } from './text/position.js'
import { repeat } from './text/repeat.js'
import { replace } from './text/replace.js'
import { replacePattern } from './text/replace-pattern.js'
import { reverse } from './text/reverse.js'
import { right } from './text/right.js'
import { singleSpaces } from './text/single-spaces.js'
import { splitPart } from './text/split-part.js'
import { startsWith } from './text/starts-with.js'
import { substring } from './text/substring.js'
import { text } from './text/text.js'
import { titleCase } from './text/title-case.js'
import { trim } from './text/trim.js'
import { upper } from './text/upper.js'
import { word } from './text/word.js'

/** Every function of the language, by family and in the order of the reference. */
export const FUNCTIONS: readonly FunctionRecord[] = [
  ...[
    abs,
    sign,
    sqrt,
    exp,
    ln,
    log10,
    log2,
    log,
    power,
    mod,
    quotient,
    floor,
    ceiling,
    truncate,
    round,
    roundUp,
    roundDown,
    roundTo,
    clamp,
    gcd,
    lcm,
    factorial,
    pi,
    e,
    sin,
    cos,
    tan,
    asin,
    acos,
    atan,
    atan2,
    sinh,
    cosh,
    tanh,
    degrees,
    radians,
    convert,
    random,
    randomBetween,
    number,
    isNumber,
  ],
  ...[
    length,
    upper,
    lower,
    titleCase,
    trim,
    singleSpaces,
    left,
    right,
    substring,
    position,
    replace,
    contains,
    startsWith,
    endsWith,
    splitPart,
    word,
    join,
    concat,
    repeat,
    padStart,
    padEnd,
    reverse,
    matches,
    capture,
    replacePattern,
    text,
  ],
  ...[ifFunction, coalesce, blankIf, ifError],
  ...[
    today,
    now,
    date,
    datetime,
    dateOf,
    year,
    quarter,
    month,
    day,
    weekday,
    week,
    isoYear,
    dayOfYear,
    hour,
    minute,
    second,
    daysBetween,
    monthsBetween,
    yearsBetween,
    elapsed,
    workdaysBetween,
    isWorkday,
    addDays,
    addMonths,
    addYears,
    addWorkdays,
    startOf,
    endOf,
    daysInMonth,
    parseDate,
  ],
  ...[sumOf, meanOf, minOf, maxOf, countOf, medianOf, anyOf, allOf, firstOf, pointsOf, weighted],
  ...[
    sum,
    mean,
    min,
    max,
    count,
    countDistinct,
    median,
    percentile,
    mode,
    stdev,
    variance,
    anyTrue,
    allTrue,
    first,
    last,
    joinRows,
    slope,
    intercept,
    correlation,
    rSquared,
    polynomial,
    share,
    lookup,
  ],
  ...[
    lag,
    lead,
    difference,
    cumulativeSum,
    cumulativeMean,
    cumulativeMin,
    cumulativeMax,
    cumulativeCount,
    movingMean,
    movingSum,
    rank,
    denseRank,
    rowNumber,
    derivative,
    integral,
  ],
]

const byName = new Map(FUNCTIONS.flatMap((record) => [record.name, ...(record.formerNames ?? [])].map((name) => [name, record])))

/** The function of this name, or that had it before, in any case; undefined for none. */
export function functionNamed(name: string): FunctionRecord | undefined {
  return byName.get(name.toLowerCase())
}
