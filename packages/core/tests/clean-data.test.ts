import { expect, test } from 'vitest'
import { Workbook } from '../src/index.js'

/** Clean data under sound formulas: the checker has nothing to say, not even a hint. */

const formulas = [
  '100 * mites per bees_sampled',
  'mites / bees_sampled',
  "case when mites is blank then 'not counted' when mites > 9 then 'treat' else 'wait' end",
  "if(mites > 9, 'treat', 'wait')",
  "join('-', hive, text(seen, 'yyMMdd'))",
  "hive & ' ' & left(note, 3)",
  'days_between(last_seen, seen)',
  'seen - last_seen',
  "elapsed(last_seen, seen, 'week')",
  'workdays_between(last_seen, seen)',
  'sin(radians(latitude))',
  'cos(2 * pi() * day_of_year(seen) / 365.25)',
  'weighted(mites / 20 at 25%, bees_sampled / 300 at 75%)',
  'sum_of(#counts)',
  'points_of(mites out of 20, bees_sampled out of 300)',
  'let load = mites per bees_sampled in round(100 * load, 1) ?? 0',
  "start_of(seen, 'month')",
  "parse_date('14.03.2026', 'dd.MM.yyyy')",
  "capture(hive, '^([A-Z]+)-')",
  "mites between 1 and 9 and hive in ('LM-01', 'LM-02')",
  "case forage when 'lime' then 1 when 'clover' then 2 end",
  'random_between(1, 6)',
]

test.each(formulas)('nothing to say about %s', (formula) => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'inspections',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'forage', type: 'text', choices: ['lime', 'clover'] },
        { name: 'note', type: 'text' },
        { name: 'seen', type: 'date' },
        { name: 'last_seen', type: 'date' },
        { name: 'mites', type: 'integer', tags: ['counts'] },
        { name: 'bees_sampled', type: 'integer', tags: ['counts'] },
        { name: 'latitude', type: 'number', unit: '°' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'inspections',
      rows: [
        {
          hive: 'LM-01',
          forage: 'lime',
          note: 'calm',
          seen: '2026-03-14',
          last_seen: '2026-03-01',
          mites: 9,
          bees_sampled: 300,
          latitude: 51.2,
        },
        {
          hive: 'LM-02',
          forage: 'clover',
          note: 'laying',
          seen: '2026-03-15',
          last_seen: '2026-03-01',
          mites: 4,
          bees_sampled: 200,
          latitude: 51.2,
        },
      ],
    },
    { op: 'add-column', table: 'inspections', column: { name: 'result', formula } },
  ])
  expect(book.check()).toEqual([])
})
