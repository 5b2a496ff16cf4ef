import { allOfGuide } from './across/all-of.js'
import { anyOfGuide } from './across/any-of.js'
import { countOfGuide } from './across/count-of.js'
import { firstOfGuide } from './across/first-of.js'
import { maxOfGuide } from './across/max-of.js'
import { meanOfGuide } from './across/mean-of.js'
import { medianOfGuide } from './across/median-of.js'
import { minOfGuide } from './across/min-of.js'
import { pointsOfGuide } from './across/points-of.js'
import { sumOfGuide } from './across/sum-of.js'
import { weightedGuide } from './across/weighted.js'
import { allTrueGuide } from './aggregate/all.js'
import { anyTrueGuide } from './aggregate/any.js'
import { correlationGuide } from './aggregate/correlation.js'
import { countGuide } from './aggregate/count.js'
import { countDistinctGuide } from './aggregate/count-distinct.js'
import { firstGuide } from './aggregate/first.js'
import { interceptGuide } from './aggregate/intercept.js'
import { joinRowsGuide } from './aggregate/join-rows.js'
import { lastGuide } from './aggregate/last.js'
import { lookupGuide } from './aggregate/lookup.js'
import { maxGuide } from './aggregate/max.js'
import { meanGuide } from './aggregate/mean.js'
import { medianGuide } from './aggregate/median.js'
import { minGuide } from './aggregate/min.js'
import { modeGuide } from './aggregate/mode.js'
import { percentileGuide } from './aggregate/percentile.js'
import { polynomialGuide } from './aggregate/polynomial.js'
import { rSquaredGuide } from './aggregate/r-squared.js'
import { shareGuide } from './aggregate/share.js'
import { slopeGuide } from './aggregate/slope.js'
import { stdevGuide } from './aggregate/stdev.js'
import { sumGuide } from './aggregate/sum.js'
import { varianceGuide } from './aggregate/variance.js'
import { addDaysGuide } from './date/add-days.js'
import { addMonthsGuide } from './date/add-months.js'
import { addWorkdaysGuide } from './date/add-workdays.js'
import { addYearsGuide } from './date/add-years.js'
import { dateGuide } from './date/date.js'
import { dateOfGuide } from './date/date-of.js'
import { datetimeGuide } from './date/datetime.js'
import { dayGuide } from './date/day.js'
import { dayOfYearGuide } from './date/day-of-year.js'
import { daysBetweenGuide } from './date/days-between.js'
import { daysInMonthGuide } from './date/days-in-month.js'
import { elapsedGuide } from './date/elapsed.js'
import { endOfGuide } from './date/end-of.js'
import { hourGuide } from './date/hour.js'
import { isWorkdayGuide } from './date/is-workday.js'
import { isoYearGuide } from './date/iso-year.js'
import { minuteGuide } from './date/minute.js'
import { monthGuide } from './date/month.js'
import { monthsBetweenGuide } from './date/months-between.js'
import { nowGuide } from './date/now.js'
import { parseDateGuide } from './date/parse-date.js'
import { quarterGuide } from './date/quarter.js'
import { secondGuide } from './date/second.js'
import { startOfGuide } from './date/start-of.js'
import { todayGuide } from './date/today.js'
import { weekGuide } from './date/week.js'
import { weekdayGuide } from './date/weekday.js'
import { workdaysBetweenGuide } from './date/workdays-between.js'
import { yearGuide } from './date/year.js'
import { yearsBetweenGuide } from './date/years-between.js'
import type { FunctionRecord } from './define.js'
import type { FunctionGuide } from './guide.js'
import { blankIfGuide } from './logic/blank-if.js'
import { coalesceGuide } from './logic/coalesce.js'
import { ifFunctionGuide } from './logic/if.js'
import { ifErrorGuide } from './logic/if-error.js'
import { absGuide } from './number/abs.js'
import { acosGuide } from './number/acos.js'
import { asinGuide } from './number/asin.js'
import { atanGuide } from './number/atan.js'
import { atan2Guide } from './number/atan2.js'
import { ceilingGuide } from './number/ceiling.js'
import { clampGuide } from './number/clamp.js'
import { convertGuide } from './number/convert.js'
import { cosGuide } from './number/cos.js'
import { coshGuide } from './number/cosh.js'
import { degreesGuide } from './number/degrees.js'
import { eGuide } from './number/e.js'
import { expGuide } from './number/exp.js'
import { factorialGuide } from './number/factorial.js'
import { floorGuide } from './number/floor.js'
import { gcdGuide } from './number/gcd.js'
import { isNumberGuide } from './number/is-number.js'
import { lcmGuide } from './number/lcm.js'
import { lnGuide } from './number/ln.js'
import { logGuide } from './number/log.js'
import { log2Guide } from './number/log2.js'
import { log10Guide } from './number/log10.js'
import { modGuide } from './number/mod.js'
import { numberGuide } from './number/number.js'
import { piGuide } from './number/pi.js'
import { powerGuide } from './number/power.js'
import { quotientGuide } from './number/quotient.js'
import { radiansGuide } from './number/radians.js'
import { randomGuide } from './number/random.js'
import { randomBetweenGuide } from './number/random-between.js'
import { roundGuide } from './number/round.js'
import { roundDownGuide } from './number/round-down.js'
import { roundToGuide } from './number/round-to.js'
import { roundUpGuide } from './number/round-up.js'
import { signGuide } from './number/sign.js'
import { sinGuide } from './number/sin.js'
import { sinhGuide } from './number/sinh.js'
import { sqrtGuide } from './number/sqrt.js'
import { tanGuide } from './number/tan.js'
import { tanhGuide } from './number/tanh.js'
import { truncateGuide } from './number/truncate.js'
import { cumulativeCountGuide } from './ordered/cumulative-count.js'
import { cumulativeMaxGuide } from './ordered/cumulative-max.js'
import { cumulativeMeanGuide } from './ordered/cumulative-mean.js'
import { cumulativeMinGuide } from './ordered/cumulative-min.js'
import { cumulativeSumGuide } from './ordered/cumulative-sum.js'
import { denseRankGuide } from './ordered/dense-rank.js'
import { derivativeGuide } from './ordered/derivative.js'
import { differenceGuide } from './ordered/difference.js'
import { integralGuide } from './ordered/integral.js'
import { lagGuide } from './ordered/lag.js'
import { leadGuide } from './ordered/lead.js'
import { movingMeanGuide } from './ordered/moving-mean.js'
import { movingSumGuide } from './ordered/moving-sum.js'
import { rankGuide } from './ordered/rank.js'
import { rowNumberGuide } from './ordered/row-number.js'
import { captureGuide } from './text/capture.js'
import { concatGuide } from './text/concat.js'
import { containsGuide } from './text/contains.js'
import { endsWithGuide } from './text/ends-with.js'
import { joinGuide } from './text/join.js'
import { leftGuide } from './text/left.js'
import { lengthGuide } from './text/length.js'
import { lowerGuide } from './text/lower.js'
import { matchesGuide } from './text/matches.js'
import { padEndGuide } from './text/pad-end.js'
import { padStartGuide } from './text/pad-start.js'
import { positionGuide } from './text/position.js'
import { repeatGuide } from './text/repeat.js'
import { replaceGuide } from './text/replace.js'
import { replacePatternGuide } from './text/replace-pattern.js'
import { reverseGuide } from './text/reverse.js'
import { rightGuide } from './text/right.js'
import { singleSpacesGuide } from './text/single-spaces.js'
import { splitPartGuide } from './text/split-part.js'
import { startsWithGuide } from './text/starts-with.js'
import { substringGuide } from './text/substring.js'
import { textGuide } from './text/text.js'
import { titleCaseGuide } from './text/title-case.js'
import { trimGuide } from './text/trim.js'
import { upperGuide } from './text/upper.js'
import { wordGuide } from './text/word.js'

/** By the name of the function, in the order of the list. They are no part of the records, so what only calculates does not load them. */
const GUIDES: Readonly<Record<string, FunctionGuide>> = {
  abs: absGuide,
  sign: signGuide,
  sqrt: sqrtGuide,
  exp: expGuide,
  ln: lnGuide,
  log10: log10Guide,
  log2: log2Guide,
  log: logGuide,
  power: powerGuide,
  mod: modGuide,
  quotient: quotientGuide,
  floor: floorGuide,
  ceiling: ceilingGuide,
  truncate: truncateGuide,
  round: roundGuide,
  round_up: roundUpGuide,
  round_down: roundDownGuide,
  round_to: roundToGuide,
  clamp: clampGuide,
  gcd: gcdGuide,
  lcm: lcmGuide,
  factorial: factorialGuide,
  pi: piGuide,
  e: eGuide,
  sin: sinGuide,
  convert: convertGuide,
  cos: cosGuide,
  tan: tanGuide,
  asin: asinGuide,
  acos: acosGuide,
  atan: atanGuide,
  atan2: atan2Guide,
  sinh: sinhGuide,
  cosh: coshGuide,
  tanh: tanhGuide,
  degrees: degreesGuide,
  radians: radiansGuide,
  random: randomGuide,
  random_between: randomBetweenGuide,
  number: numberGuide,
  is_number: isNumberGuide,
  length: lengthGuide,
  upper: upperGuide,
  lower: lowerGuide,
  title_case: titleCaseGuide,
  trim: trimGuide,
  single_spaces: singleSpacesGuide,
  left: leftGuide,
  right: rightGuide,
  substring: substringGuide,
  position: positionGuide,
  replace: replaceGuide,
  contains: containsGuide,
  starts_with: startsWithGuide,
  ends_with: endsWithGuide,
  split_part: splitPartGuide,
  word: wordGuide,
  join: joinGuide,
  concat: concatGuide,
  repeat: repeatGuide,
  pad_start: padStartGuide,
  pad_end: padEndGuide,
  reverse: reverseGuide,
  matches: matchesGuide,
  capture: captureGuide,
  replace_pattern: replacePatternGuide,
  text: textGuide,
  if: ifFunctionGuide,
  coalesce: coalesceGuide,
  blank_if: blankIfGuide,
  if_error: ifErrorGuide,
  today: todayGuide,
  now: nowGuide,
  date: dateGuide,
  datetime: datetimeGuide,
  date_of: dateOfGuide,
  year: yearGuide,
  quarter: quarterGuide,
  month: monthGuide,
  day: dayGuide,
  weekday: weekdayGuide,
  week: weekGuide,
  iso_year: isoYearGuide,
  day_of_year: dayOfYearGuide,
  hour: hourGuide,
  minute: minuteGuide,
  second: secondGuide,
  days_between: daysBetweenGuide,
  months_between: monthsBetweenGuide,
  years_between: yearsBetweenGuide,
  elapsed: elapsedGuide,
  workdays_between: workdaysBetweenGuide,
  is_workday: isWorkdayGuide,
  add_days: addDaysGuide,
  add_months: addMonthsGuide,
  add_years: addYearsGuide,
  add_workdays: addWorkdaysGuide,
  start_of: startOfGuide,
  end_of: endOfGuide,
  days_in_month: daysInMonthGuide,
  parse_date: parseDateGuide,
  sum_of: sumOfGuide,
  mean_of: meanOfGuide,
  min_of: minOfGuide,
  max_of: maxOfGuide,
  count_of: countOfGuide,
  median_of: medianOfGuide,
  any_of: anyOfGuide,
  all_of: allOfGuide,
  first_of: firstOfGuide,
  points_of: pointsOfGuide,
  weighted: weightedGuide,
  sum: sumGuide,
  mean: meanGuide,
  min: minGuide,
  max: maxGuide,
  count: countGuide,
  count_distinct: countDistinctGuide,
  median: medianGuide,
  percentile: percentileGuide,
  mode: modeGuide,
  stdev: stdevGuide,
  variance: varianceGuide,
  any: anyTrueGuide,
  all: allTrueGuide,
  first: firstGuide,
  last: lastGuide,
  join_rows: joinRowsGuide,
  slope: slopeGuide,
  intercept: interceptGuide,
  correlation: correlationGuide,
  r_squared: rSquaredGuide,
  polynomial: polynomialGuide,
  share: shareGuide,
  lookup: lookupGuide,
  lag: lagGuide,
  lead: leadGuide,
  difference: differenceGuide,
  cumulative_sum: cumulativeSumGuide,
  cumulative_mean: cumulativeMeanGuide,
  cumulative_min: cumulativeMinGuide,
  cumulative_max: cumulativeMaxGuide,
  cumulative_count: cumulativeCountGuide,
  moving_mean: movingMeanGuide,
  moving_sum: movingSumGuide,
  rank: rankGuide,
  dense_rank: denseRankGuide,
  row_number: rowNumberGuide,
  derivative: derivativeGuide,
  integral: integralGuide,
}

/** What people read of a function. */
export function guideOf({ name }: FunctionRecord): FunctionGuide {
  return GUIDES[name] as FunctionGuide
}
