import { describe, expect, test } from 'vitest'
import { demoDefinitions, demoOperations, thistleAndComb } from '../../../demo/src/index.js'
import { type Operation, Workbook } from '../../src/index.js'

const OF_UNITS: ReadonlySet<string> = new Set(['unlike-units', 'unit-differs', 'no-conversion'])

test('nothing is said of units in what the co-operative keeps', () => {
  const book = new Workbook({ now: 0 })
  book.applyJson(demoOperations(thistleAndComb()))
  book.applyJson(demoDefinitions())
  expect(book.findings().length).toBeGreaterThan(5)
  expect(book.findings().filter(({ code }) => OF_UNITS.has(code))).toEqual([])
})

/** Tables as they are handed over: numbers without a word of what they are in, with formulas that people wrote over them. */
const TABLES: Readonly<Record<string, { readonly columns: string; readonly formulas: string }>> = {
  market_days: {
    columns: 'day:date stall:text jars price weight_g customers takings cost_of_stand hours rain',
    formulas: `takings / jars | takings - cost_of_stand | weight_g / 1000 * price | takings per hours | jars * weight_g / 1000
      customers + jars | takings + weight_g | if(rain > 5, takings, weight_g) | mean(takings by stall) - price | sin(hours)
      sum(takings) / count() | max_of(jars, customers, hours) | share(takings) * 100 | day + hours | lag(takings) + jars`,
  },
  weather_station: {
    columns: 'at:datetime celsius humidity pressure wind gust rain radiation',
    formulas: `celsius * 1.8 + 32 | gust - wind | wind * 3.6 | pressure / 100 | celsius + humidity | moving_mean(celsius, 24)
      6.112 * exp(17.67 * celsius / (celsius + 243.5)) * humidity / 100 | rain > celsius | cumulative_sum(rain) | cos(wind)
      derivative(pressure, at) | integral(rain, at) | max_of(wind, gust, rain) | stdev(celsius) + pressure | radiation ^ 2 + rain`,
  },
  members: {
    columns: 'name:text joined:date left:date hives share_paid distance age',
    formulas: `left - joined | days_between(joined, left) / 365.25 | years_between(joined, left) + age | hives * 2.5 | share_paid / hives
      distance / 60 | age + hives | joined + age | distance * 0.3 + share_paid | round(share_paid, 2) - hives | rank(age) + hives
      count() + age | sqrt(distance) + age | (left - joined) + hives | elapsed(joined, left, 'week') * hives`,
  },
  deliveries: {
    columns: 'sent:datetime arrived:datetime boxes weight volume distance cost fuel',
    formulas: `(arrived - sent) * 24 | distance / ((arrived - sent) * 24) | cost / weight | weight / volume | boxes * weight
      cost + fuel | elapsed(sent, arrived, 'hour') + distance | weight + volume | cost per distance | cost - 0.12 * distance
      sum(weight by boxes) / volume | slope(cost, distance) * weight + fuel | weight = volume | arrived + fuel | boxes ?? weight`,
  },
  hive_scales: {
    columns: 'hive:text at:datetime grams brood battery signal lat lon gain',
    formulas: `grams / 1000 | grams - lag(grams by hive) | difference(grams) / 1000 | grams + battery | battery * 100 | signal + grams
      sin(lat) * cos(lon) | acos(sin(radians(lat)) * cos(radians(lon))) * 6371 | gain / grams * 100 | mean(grams by hive) + battery
      percentile(grams, 90) - brood | let kilos = grams / 1000 in kilos + brood | clamp(battery, 0, grams) | mod(lon, lat)
      case when battery < grams then gain else signal end`,
  },
}

describe('nothing is said of units in tables without any', () => {
  test.each(Object.entries(TABLES))('%s', (table, { columns, formulas }) => {
    const book = new Workbook({ now: 0 })
    const read = columns.split(' ').map((text) => {
      const [name = '', type = 'number'] = text.split(':')
      return { name, type }
    })
    const row = Object.fromEntries(read.flatMap(({ name, type }, at) => (type === 'number' ? [[name, at + 0.5]] : [])))
    book.applyJson([
      { op: 'add-table', table, columns: read },
      { op: 'insert-rows', table, rows: [row, row] },
    ])
    const all = formulas.split(/[|\n]/).map((text) => text.trim())
    expect(all).toHaveLength(15)
    const added = all.map((formula, at): Operation => ({ op: 'add-column', table, column: { name: `made_${at}`, formula } }))
    book.apply(added)
    expect(book.findings().filter(({ code }) => OF_UNITS.has(code))).toEqual([])
    const withUnit = book.table(table).columns.filter(({ unit }) => unit !== null)
    // Only what is certain whatever the columns are in: times between dates, and angles.
    for (const { unit } of withUnit) expect(['d', 'h', 'rad', 'a', 'wk']).toContain(unit)
  })
})
