import { describe, expect, test } from 'vitest'
import { TEMPLATES } from '../../src/functions/templates.js'
import { Workbook } from '../../src/index.js'
import { DAYS, MEASURES, MEMBERS, SITES, tableOf } from './lists.js'

const bookOf = (): Workbook => {
  const book = new Workbook({ now: '2026-11-30' })
  for (const list of [SITES, MEASURES, MEMBERS, DAYS]) book.apply(tableOf(list))
  book.apply([
    { op: 'add-link', table: 'measures', columns: ['site'], to: 'sites', keys: ['code'] },
    { op: 'change-column', table: 'measures', column: 'gross', set: { unit: 'kg' } },
  ])
  return book
}

describe('formulas by what they are for', () => {
  const book = bookOf()
  test.each<[string, string, Readonly<Record<string, string>>]>([
    ['members', 'split a name into first and last', { given_name: 'word(full_name, 1)', family_name: 'word(full_name, -1)' }],
    ['members', 'initials', { initials: 'left(word(full_name, 1), 1) & left(word(full_name, -1), 1)' }],
    ['members', 'put first and last name together', { full_name_2: "first & ' ' & last" }],
    ['measures', 'average by site', { mean_gross: 'mean(gross by site)' }],
    ['measures', 'average mites by site', { mean_mites: 'mean(mites by site)' }],
    ['measures', 'total frames by site', { total_frames: 'sum(frames by site)' }],
    ['measures', 'how many by site', { rows_of_site: 'count(by site)' }],
    ['measures', 'percent of total of stores', { stores_percent: '100 * share(stores)' }],
    ['measures', 'percent mites by site', { mites_percent: '100 * share(mites by site)' }],
    ['measures', 'rank by price', { place_by_price: 'rank(price desc)' }],
    ['measures', 'rank gross by site', { place_in_site: 'rank(gross desc by site)' }],
    ['measures', 'running total of mites', { mites_so_far: 'cumulative_sum(mites)' }],
    ['measures', 'moving average of celsius', { celsius_smooth: 'moving_mean(celsius, 7)' }],
    ['measures', 'difference of gross and tare', { gross_less_tare: 'gross - tare' }],
    ['measures', 'ratio of mites and bees', { mites_per_bees: 'mites per bees' }],
    ['measures', 'blanks as zero in stores', { stores_or_zero: 'stores ?? 0' }],
    ['measures', 'change of price from the row before', { price_change: 'difference(price)' }],
    ['days', 'days without weekends', { working_days: 'workdays_between(day, ends)' }],
    ['days', 'days between day and ends', { days: 'ends - day' }],
    ['days', 'day of the week', { weekday: "text(day, 'EEEE')" }],
    ['days', 'end of the month', { month_ends: "end_of(day, 'month')" }],
    ['sites', 'total gross from another table', { total_gross: 'sum(measures.gross)' }],
    ['sites', 'how many linked measures', { number_of_measures: 'count(measures)' }],
  ])('%s: %s', (table, words, formulas) => {
    const [first] = book.formulasFor(table, words)
    expect(first?.formulas).toEqual(formulas)
    expect(first?.explanation).not.toBe('')
    expect(first?.preview.length).toBe(3)
  })

  test('what they give in rows that have something to show is shown', () => {
    const [first] = book.formulasFor('measures', 'change of mites')
    expect(first?.preview).toEqual([
      { rowNumber: 2, values: { mites_change: -3 } },
      { rowNumber: 3, values: { mites_change: 12 } },
      { rowNumber: 4, values: { mites_change: -7 } },
    ])
  })

  test('words that no template answers to find none, and a table that there is not is refused', () => {
    expect(book.formulasFor('measures', 'bake a cake')).toEqual([])
    expect(book.formulasFor('measures', '')).toEqual([])
    expect(() => book.formulasFor('nowhere', 'rank')).toThrow('nowhere')
  })

  test('nothing is defined, names that are taken are not offered, and names of any kind are written as they must be', () => {
    const own = bookOf()
    own.apply({ op: 'rename-column', table: 'measures', column: 'mites', to: 'Mites found' })
    own.apply({ op: 'add-column', table: 'measures', column: { name: 'mean_Mites found', formula: '1' } })
    const { revision } = own
    const [first] = own.formulasFor('measures', 'average mites by site')
    expect(first?.formulas).toEqual({ 'mean_Mites found_2': 'mean(`Mites found` by site)' })
    expect(own.revision).toBe(revision)
  })
})

describe('every template', () => {
  const book = bookOf()
  book.apply({ op: 'add-table', table: 'empty', columns: [] })
  test.each(TEMPLATES.flatMap(({ phrases, formulas }) => phrases.split('; ').map((phrase) => [phrase, formulas] as const)))(
    'is found by its own words, and gives formulas without mistakes: %s',
    (phrase, formulas) => {
      const form = (text: string): RegExp =>
        new RegExp(`^${text.replace(/[.*+?^$()|[\]\\]/g, '\\$&').replace(/\{\w+\}/g, '.+')}$`)
      const wanted = Object.values(formulas).map(form)
      const found = ['measures', 'members', 'days', 'sites'].flatMap((table) =>
        book.formulasFor(table, phrase).map((one) => ({ table, written: Object.values(one.formulas) })),
      )
      const answer = found.find(({ written }) => wanted.every((one, at) => one.test(written[at] ?? '')))
      expect(answer).toBeDefined()
      for (const formula of answer?.written ?? [])
        expect(book.evaluate(answer?.table ?? '', formula).values.length).toBeGreaterThan(0)
      expect(book.formulasFor('empty', phrase).every((one) => Object.keys(one.formulas).length > 0)).toBe(true)
    },
  )
})
