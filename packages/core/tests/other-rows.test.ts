import { describe, expect, test } from 'vitest'
import { checkFormula, parseFormula, typeWords } from '../src/formula/index.js'
import { applyEdits } from '../src/index.js'
import { combScopes } from './helpers/book-of-tables.js'

/** Forms that read other rows than their own (docs/language, "References"): parsed and checked; calculated with the engine. */

function codesOf(table: string, formula: string): string {
  const { findings, expression } = checkFormula(parseFormula(formula), combScopes(table))
  const codes = findings.map((one) => one.code)
  return codes.length === 0 ? typeWords(expression.type) : codes.join(' ')
}

type Case = readonly [table: string, formula: string, result: string]

function cases(title: string, list: readonly Case[]): void {
  describe(title, () => test.each(list)('%s: %s', (table, formula, result) => expect(codesOf(table, formula)).toBe(result)))
}

cases('names and paths', [
  ['inspections', 'hive', 'text'],
  ['inspections', 'hive.frames', 'number'],
  ['inspections', 'hive.apiary.region', 'text'],
  ['inspections', 'hive.parent.apiary.region', 'text'],
  ['inspections', 'HIVE.Apiary.`region`', 'text'],
  ['inspections', 'hive.apiary.reigon', 'unknown-name'],
  ['inspections', 'hive.yards.region', 'unexpected-qualifier'],
  ['inspections', 'harvests.total_kg', 'number'],
  ['inspections', 'harvests.honey_kg', 'unexpected-qualifier'],
  ['inspections', 'weather.rain_mm', 'unexpected-qualifier'],
  ['inspections', 'nowhere.x', 'unexpected-qualifier'],
  ['harvests', 'total_kg', 'number'],
  ['harvests', 'harvests.total_kg', 'number'],
  ['inspections', 'feed_price * stores_kg', 'number'],
  ['inspections', 'book.feed_price', 'number'],
  ['inspections', 'book.feed_prise', 'unknown-name'],
  ['apiaries', 'region', 'shadowed-value'],
  ['apiaries', 'book.region', 'text'],
  ['hives', 'this.frames', 'number'],
  ['inspections', 'every weather.rain_mm', 'not-here'],
])

cases('rows an aggregate reads', [
  ['harvests', 'sum(honey_kg)', 'same-on-every-row'],
  ['harvests', 'sum(honey_kg by grade)', 'number'],
  ['harvests', 'share(honey_kg)', 'number'],
  ['harvests', 'count(by grade, hive)', 'number'],
  ['harvests', 'count()', 'same-on-every-row'],
  ['harvests', 'mean(hive.frames by grade)', 'number'],
  ['hives', 'sum(harvests.honey_kg)', 'number'],
  ['hives', 'count(harvests)', 'number'],
  ['hives', 'count(harvests where grade = "A")', 'number'],
  ['hives', 'sum(harvests.honey_kg where harvests.grade = "A")', 'number'],
  ['hives', 'sum(harvests.honey_kg - harvests.frames)', 'number'],
  ['hives', 'sum(harvests.honey_kg - frames)', 'number'],
  ['apiaries', 'sum(harvests.honey_kg)', 'number'],
  ['apiaries', 'sum(harvests.honey_kg via hive.apiary)', 'number'],
  ['apiaries', 'sum(harvests.honey_kg via hive)', 'misplaced-clause'],
  ['apiaries', 'sum(harvests.honey_kg via stand)', 'unknown-link'],
  ['hives', 'sum(transfers.frames)', 'several-links'],
  ['hives', 'sum(transfers.frames via into)', 'number'],
  ['hives', 'sum(frames via parent)', 'number'],
  ['hives', 'sum(frames below parent)', 'number'],
  ['hives', 'sum(frames via apiary)', 'misplaced-clause'],
  ['hives', 'sum(frames via parent below parent)', 'misplaced-clause'],
  ['hives', 'sum(weather.rain_mm)', 'no-link'],
  ['hives', 'sum(every weather.rain_mm)', 'same-on-every-row'],
  ['hives', 'count(every weather)', 'same-on-every-row'],
  ['hives', 'sum(every weather.rain_mm via parent)', 'misplaced-clause'],
  ['hives', 'sum(every wether.rain_mm)', 'unknown-table'],
  ['hives', 'sum(every weather.rain_mm + every harvests.honey_kg)', 'second-table'],
  ['hives', 'count(weather)', 'no-link'],
  ['hives', 'sum(every weather)', 'argument-count'],
  ['hives', 'sum(harvests)', 'argument-count'],
  ['hives', 'sum()', 'argument-count'],
  ['hives', 'percentile(every weather.rain_mm)', 'argument-count'],
  ['hives', 'lookup(every rates where code = this.tag)', 'argument-count'],
  ['hives', 'row_number(frames)', 'argument-count'],
  ['hives', 'lag(frames, 1, 2)', 'argument-count'],
  ['inspections', 'sum(hive.frames)', 'same-on-every-row'],
  ['inspections', 'count(mites)', 'same-on-every-row'],
])

cases('names inside an aggregate', [
  ['inspections', 'count(every weather where day > this.last_seen and day <= this.seen and rain_mm > 1)', 'number'],
  ['inspections', 'count(every weather where day > last_seen)', 'unknown-name'],
  ['inspections', 'count(every weather where day > this.lst_seen)', 'unknown-name'],
  ['inspections', 'let net = mites - 1 in count(every weather where rain_mm > this.net)', 'number'],
  ['inspections', 'let net = mites - 1 in count(every weather where rain_mm > net)', 'unknown-name'],
  ['inspections', 'sum(every weather.rain_mm * feed_price)', 'same-on-every-row'],
  ['hives', 'max(every inspections.hive.frames)', 'same-on-every-row'],
  ['inspections', 'sum(every weather.rain_mm where day = weather.day)', 'same-on-every-row'],
  ['hives', 'mean(every harvests.honey_kg - mean(honey_kg by grade))', 'same-on-every-row'],
  ['hives', 'sum(lag(harvests.honey_kg))', 'unexpected-qualifier'],
  ['inspections', 'sum(every weather.rain_mm by day)', 'keys-elsewhere'],
  ['hives', 'count(every weather where rain_mm)', 'type-mismatch'],
  ['hives', 'sum(every rates.code)', 'type-mismatch'],
])

cases('lookups and the latest row before a day', [
  ['inspections', 'lookup(every rates.price where code = this.hive)', 'number'],
  ['inspections', 'last(every rates.price where from_day <= this.seen order by from_day)', 'number'],
  ['inspections', "join_rows(every rates.code, ', ' order by from_day desc, code)", 'same-on-every-row'],
  ['inspections', 'percentile(every weather.rain_mm, 90%)', 'same-on-every-row'],
  ['inspections', 'slope(every weather.rain_mm, every weather.rain_mm)', 'same-on-every-row'],
  ['inspections', 'polynomial(stores_kg, mites, 3, 1 by hive)', 'number'],
  ['inspections', 'min(every weather.day)', 'same-on-every-row'],
])

cases('neighbours in an order', [
  ['inspections', 'lag(mites)', 'number'],
  ['inspections', 'lag(mites, 2 by hive order by seen)', 'number'],
  ['inspections', 'lead(notes order by seen desc)', 'text'],
  ['inspections', '(lag(stores_kg) ?? 0) + mites', 'number'],
  ['inspections', 'cumulative_sum(mites by hive)', 'number'],
  ['inspections', 'rank(mites desc by hive)', 'number'],
  ['inspections', 'rank(ok)', 'type-mismatch'],
  ['inspections', 'row_number(by hive order by seen)', 'number'],
  ['inspections', 'derivative(stores_kg, seen by hive)', 'number'],
  ['inspections', 'moving_mean(mites, 3 by hive order by seen)', 'number'],
  ['inspections', 'lag(mites where ok)', 'misplaced-clause'],
  ['inspections', 'lag(every weather.rain_mm)', 'not-here not-here'],
  ['inspections', 'derivative(stores_kg, seen order by seen)', 'misplaced-clause'],
  ['inspections', 'sum(mites desc)', 'misplaced-clause'],
  ['inspections', 'sum(mites by hive by seen)', 'misplaced-clause'],
])

cases('across one row', [
  ['inspections', 'mean_of(#score)', 'number'],
  ['inspections', 'mean_of(#score, stores_kg, blanks as zero)', 'number'],
  ['inspections', 'mean_of(#scores)', 'unknown-tag'],
  ['inspections', 'weighted(brood at 40%, temper at 60%)', 'number'],
  ['inspections', 'weighted(brood at 40%, temper at 50%)', 'weights-total'],
  ['inspections', 'weighted(brood, temper at 50%)', 'amount-expected'],
  ['inspections', 'weighted(brood at mites)', 'constant-expected'],
  ['inspections', 'weighted(brood out of 20)', 'amount-expected'],
  ['inspections', 'points_of(brood out of 20, temper out of 5, blanks as zero)', 'number'],
  ['inspections', 'points_of(#score)', 'amount-expected'],
  ['inspections', 'sum_of(brood at 40%)', 'not-here'],
  ['inspections', 'min_of(seen, last_seen)', 'date'],
  ['inspections', 'min_of(seen, last_seen, blanks as zero)', 'misplaced-clause'],
  ['inspections', 'max_of(ok)', 'type-mismatch'],
  ['inspections', 'max_of(mites, notes)', 'type-mismatch'],
  ['inspections', 'count_of(mites, notes, blanks as zero)', 'misplaced-clause'],
  ['inspections', 'first_of(notes, hive)', 'text'],
  ['inspections', 'round(mites, blanks as zero)', 'misplaced-clause'],
])

cases('working days and texts with rules of their own', [
  ['inspections', 'workdays_between(last_seen, seen, every calendar.day where holiday)', 'number'],
  ['inspections', "workdays_between(last_seen, seen, every calendar.day where holiday, 'sat sun')", 'number'],
  ['inspections', "workdays_between(last_seen, seen, 'fri sat')", 'number'],
  ['inspections', "workdays_between(last_seen, seen, 'fry')", 'unusable-text'],
  ['inspections', "workdays_between(last_seen, seen, every calendar.day, 'fry')", 'unusable-text'],
  ['inspections', 'workdays_between(last_seen, seen, every calendar.stamp)', 'type-mismatch'],
  ['inspections', 'is_workday(seen, every calendar.day where rain)', 'unknown-name'],
  ['inspections', 'workdays_between(last_seen)', 'argument-count'],
  ['inspections', "start_of(seen, 'monht')", 'unusable-text'],
  ['inspections', 'start_of(seen, notes)', 'date'],
  ['inspections', "parse_date(notes, 'dd.MM.y')", 'date'],
  ['inspections', "parse_date(notes, 'dd.MM.y HH:mm')", 'date-time'],
  ['inspections', 'parse_date(notes, hive)', 'constant-expected'],
  ['inspections', "parse_date(notes, 'QQ')", 'unusable-text'],
  ['inspections', "matches(notes, '(')", 'unusable-text'],
  ['inspections', "text(seen, 'd MMM y')", 'text'],
  ['inspections', "text(mites, 'd MMM y')", 'unusable-text'],
])

cases('what people get wrong', [
  ['apiaries', 'sin(latitude)', 'unlike-units'],
  ['apiaries', 'sin(radians(latitude))', 'number'],
  ['hives', 'sum(harvests.yield)', 'total-of-ratio'],
  ['harvests', '100 * honey_kg / honey_kg', 'share-of-itself'],
  ['harvests', '100 * honey_kg per sum_of(honey_kg)', 'share-of-itself'],
  ['harvests', 'hive & grade', 'no-separator'],
  ['harvests', "hive & '-' & grade", 'text'],
  ['hives', 'last_seen', 'unknown-name'],
])

describe('fixes lead to a formula without the finding', () => {
  test.each([
    ['inspections', 'weather.rain_mm', 'sum(every weather.rain_mm)'],
    ['hives', 'sum(weather.rain_mm)', 'sum(every weather.rain_mm)'],
    ['hives', 'sum(transfers.frames)', 'sum(transfers.frames via out)'],
    ['inspections', 'count(every weather where day > last_seen)', 'count(every weather where day > this.last_seen)'],
    ['inspections', 'sum(every weather.rain_mm by day)', 'sum(every weather.rain_mm where day = this.day)'],
    [
      'hives',
      'sum(every harvests.honey_kg by frames where grade = "A")',
      'sum(every harvests.honey_kg  where frames = this.frames and (grade = "A"))',
    ],
    ['inspections', 'mean_of(#scor)', 'mean_of(#score)'],
    ['apiaries', 'sin(latitude)', 'sin(radians(latitude))'],
    ['harvests', 'sum(yield)', 'sum(honey_kg) per sum(frames)'],
    ['harvests', 'honey_kg / honey_kg', 'share(honey_kg)'],
    ['harvests', 'hive & grade', "hive & ' ' & grade"],
    ['inspections', 'round(mites where ok)', 'round(mites)'],
    ['inspections', "start_of(seen, 'monht')", "start_of(seen, 'month')"],
    ['inspections', 'hive.apiary.reigon', 'hive.apiary.region'],
    ['apiaries', 'region', 'book.region'],
  ])('%s: %s', (table, formula, mended) => {
    const [found] = checkFormula(parseFormula(formula), combScopes(table)).findings
    expect(applyEdits(formula, found?.fixes[0]?.edits ?? [])).toBe(mended)
    expect(codesOf(table, mended)).not.toContain(found?.code)
  })
})
