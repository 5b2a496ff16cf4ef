import { describe, expect, test } from 'vitest'
import {
  type GroupedView,
  parseLevels,
  parseViewOrder,
  parseViewParameter,
  parseViewTop,
  Refusal,
  Workbook,
} from '../src/index.js'
import { shownValue } from './helpers/sketch-of-book.js'

/** Grouped views: what is asked for and what comes back; that the figures are right is held by the oracle elsewhere. */

function harvests(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'flow', type: 'text' },
        { name: 'kg', type: 'number', unit: 'kg' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: { hive: ['A', 'A', 'B', null, 'C'], flow: ['lime', 'clover', 'lime', 'lime', 'clover'], kg: [3, 4, 5, 1, 7] },
    },
    { op: 'set-tally', table: 'harvests', name: 'all_kg', formula: 'sum(kg)' },
    { op: 'set-value', name: 'price', value: 2 },
  ])
  return book
}

const rowsOf = (view: Omit<GroupedView, 'table'>, book = harvests()): unknown[][] =>
  book
    .group({ table: 'harvests', ...view })
    .rows()
    .map((row) => row.map(shownValue))

const kg = [{ name: 'total', formula: 'sum(kg)' }]

test('rows, groups and the whole each have what is theirs', () => {
  const result = harvests().group({
    table: 'harvests',
    levels: [{ key: 'hive' }],
    columns: [{ name: 'flow', formula: 'flow' }],
    tallies: [
      { name: 'kg', formula: 'sum(kg)' },
      { name: 'worth', formula: 'all_kg * price' },
    ],
    lines: [{ name: 'rows', formula: 'count()' }],
    shown: ['rows', 'kg', 'flow', 'worth'],
    limit: 2,
  })
  expect(result.columns.map(({ name, type, unit }) => [name, type, unit])).toEqual([
    ['level', 'integer', null],
    ['hive', 'text', null],
    ['rows', 'number', null],
    ['kg', 'number', 'kg'],
    ['flow', 'text', null],
    ['worth', 'number', null],
  ])
  // A tally of the name of a column shows the column on single rows.
  expect(result.rows()).toEqual([
    [1, 'A', 2, 7, null, 14],
    [2, 'A', 1, 3, 'lime', null],
    [2, 'A', 1, 4, 'clover', null],
    [1, 'B', 1, 5, null, 10],
    [2, 'B', 1, 5, 'lime', null],
    [0, null, 5, 20, null, 40],
  ])
  expect(result.lines.map(({ kind, row, rowNumber }) => [kind, row, rowNumber])).toEqual([
    ['group', null, null],
    ['row', 1, 1],
    ['row', 2, 2],
    ['group', null, null],
    ['row', 3, 3],
    ['whole', null, null],
  ])
  expect([result.rowCount, result.keptCount, result.matched]).toEqual([5, 5, 8])
})

test('the condition is of the view alone: calculated columns keep their values', () => {
  const book = harvests()
  book.apply({ op: 'add-column', table: 'harvests', column: { name: 'part', formula: 'share(kg)' } })
  expect(rowsOf({ where: 'hive = "A"', tallies: [{ name: 'part', formula: 'sum(part)' }] }, book)).toEqual([[0, 0.35]])
})

test('a line may read itself on the line before, and lines around it at any distance', () => {
  const view: Omit<GroupedView, 'table'> = {
    levels: [{ key: 'flow' }, { key: 'hive' }],
    tallies: kg,
    lines: [
      { name: 'so_far', formula: '(previous.so_far ?? 0) + total' },
      { name: 'of_all', formula: '100 * total per parent.parent.total' },
      { name: 'twice', formula: 'so_far * price' },
    ],
    flat: true,
  }
  expect(rowsOf(view)).toEqual([
    ['clover', 'A', 4, 4, 20, 8],
    ['clover', 'C', 7, 11, 35, 22],
    ['lime', 'A', 3, 3, 15, 6],
    ['lime', 'B', 5, 8, 25, 16],
    ['lime', null, 1, 9, 5, 18],
  ])
})

test('order, top and having are of their level; what is left out is one line over its rows', () => {
  const levels = [{ key: 'flow' }, { key: 'hive' }]
  expect(
    rowsOf({
      levels,
      tallies: kg,
      order: [
        { by: 'flow', descending: true },
        { level: 'hive', by: 'total' },
      ],
    }),
  ).toEqual([
    [1, 'lime', null, 9],
    [2, 'lime', 'A', 3],
    [2, 'lime', 'B', 5],
    [2, 'lime', null, 1],
    [1, 'clover', null, 11],
    [2, 'clover', 'A', 4],
    [2, 'clover', 'C', 7],
    [0, null, null, 20],
  ])
  expect(rowsOf({ levels, tallies: kg, top: [{ level: 'hive', by: 'total', count: 1 }], having: 'total > 3' })).toEqual([
    [1, 'clover', null, null, 11],
    [2, 'clover', 'C', null, 7],
    [2, 'clover', null, 1, 4],
    [1, 'lime', null, null, 9],
    [2, 'lime', 'B', null, 5],
    [2, 'lime', null, 2, 4],
    [0, null, null, null, 20],
  ])
})

test('a key goes across: its values are columns, blank and errors too, and the totals stand behind them', () => {
  const result = harvests().group({
    table: 'harvests',
    levels: [{ key: 'flow' }],
    across: { key: 'hive' },
    tallies: kg,
    lines: [{ name: 'change', formula: 'total - previous.total' }],
  })
  expect(result.columns.map(({ name }) => name)).toEqual([
    ...['level', 'flow', 'A total', 'A change', 'B total', 'B change', 'C total', 'C change', '(blank) total', '(blank) change'],
    ...['total', 'change'],
  ])
  expect(result.rows()[1]).toEqual([1, 'lime', 3, -1, 5, null, null, null, 1, null, 9, -2])
  const faults = harvests().group({ table: 'harvests', across: { key: '1 / (kg - 5) > 0' }, tallies: kg })
  expect(faults.columns.map(({ name }) => name)).toEqual([
    ...['level', 'false total', 'true total', 'division-by-zero total', 'total'],
  ])
  const many = harvests()
  many.apply({ op: 'insert-rows', table: 'harvests', block: { hive: Array.from({ length: 200 }, (_, at) => `H${at}`) } })
  expect(() => rowsOf({ across: { key: 'hive' }, tallies: kg }, many)).toThrow(/has 204 values; at most 200/)
})

test('parameters are names for values, in the condition and in every formula', () => {
  const parameters = [
    { name: 'least', type: 'number', value: 4 },
    { name: 'wanted', type: 'text', value: 'lime' },
  ] as const
  const view = {
    parameters,
    where: 'kg >= least and flow = wanted',
    levels: [{ key: 'kg > least' }],
    tallies: [{ name: 'over', formula: 'sum(kg where kg > least) - least' }],
    lines: [{ name: 'more', formula: 'over + least' }],
  }
  expect(rowsOf(view)).toEqual([
    [1, true, 1, 5],
    [0, null, 1, 5],
  ])
})

describe('a view is refused', () => {
  test.each<[string, Omit<GroupedView, 'table'>, RegExp]>([
    [
      'with a tally that has a value for each row',
      { levels: [{ key: 'hive' }], tallies: [{ name: 'before', formula: 'sum(kg) + lag(kg)' }] },
      /lag\(kg\) cannot stand here: it has a value for each row/,
    ],
    ['with a key that is not there', { levels: [{ key: 'hvie' }] }, /no column or value called hvie. Nearest name: hive/],
    ['with two columns of a name', { tallies: [...kg, ...kg] }, /already has a column called total/],
    ['with a column of the result itself', { tallies: [{ name: 'Level', formula: 'count()' }] }, /called Level/],
    ['with a tally over single rows', { tallies: [{ name: 'x', formula: 'kg' }] }, /kg/],
    ['with a name that every object has', { tallies: kg, lines: [{ name: 'x', formula: 'constructor.total' }] }, /constructor/],
    ['with a total in a line', { lines: [{ name: 'x', formula: 'sum(kg)' }] }, /sum\(kg\) cannot stand here/],
    ['with a column of the table in a line', { lines: [{ name: 'x', formula: 'kg' }] }, /grouped has no column .*kg/],
    ['with a line that reads itself', { lines: [{ name: 'x', formula: 'x' }] }, /x would depend on itself/],
    ['with a line that reads itself above', { lines: [{ name: 'x', formula: 'parent.x' }] }, /x would depend on itself/],
    [
      'with lines that read each other',
      {
        lines: [
          { name: 'x', formula: 'previous.y' },
          { name: 'y', formula: 'x' },
        ],
      },
      /x would depend on itself: x → y → x/,
    ],
    ['with an order by what is not there', { tallies: kg, order: [{ by: 'totl' }] }, /Nearest name: total/],
    ['with an order at no level', { tallies: kg, order: [{ by: 'total', level: 'flw' }] }, /no column called flw/],
    [
      'with an order by what depends on the order',
      {
        lines: [
          { name: 'x', formula: 'count() - previous.size' },
          { name: 'size', formula: 'count()' },
        ],
        order: [{ by: 'x' }],
      },
      /x depends on the order of the lines/,
    ],
    ['with a condition that is none', { tallies: kg, having: 'total' }, /condition expects true or false/],
    ['with columns shown that are not there', { tallies: kg, shown: ['x'] }, /no column called x/],
    [
      'with a parameter of a name in use',
      { parameters: [{ name: 'price', type: 'number', value: 1 }] },
      /already has a value called price/,
    ],
    [
      'with a parameter twice',
      {
        parameters: [
          { name: 'p', type: 'number', value: 1 },
          { name: 'P', type: 'text', value: 'x' },
        ],
      },
      /parameter called P/,
    ],
    ['with a parameter without a value', { parameters: [{ name: 'p', type: 'number' }] }, /parameter p: it has no value/],
    [
      'with a parameter of another type',
      { parameters: [{ name: 'p', type: 'date', value: 'x' }] },
      /expected date, received "x"/,
    ],
  ])('%s', (_, view, message) => {
    const book = harvests()
    const memory = book.memory().indexes.length
    expect(() => rowsOf({ levels: [{ key: 'hive' }], ...view }, book)).toThrow(Refusal)
    expect(() => rowsOf({ levels: [{ key: 'hive' }], ...view }, book)).toThrow(message)
    expect(book.memory().indexes).toHaveLength(memory)
  })
})

test('what a view needed is let go with it', () => {
  const book = harvests()
  const before = book.memory()
  rowsOf({ levels: [{ key: 'hive' }, { key: 'kg > 3' }], across: { key: 'flow' }, tallies: kg, where: 'kg > 1' }, book)
  expect(book.memory()).toEqual(before)
})

test('as many groups as a table has rows can be ordered', () => {
  const book = harvests()
  const many = 200_000
  book.apply({ op: 'insert-rows', table: 'harvests', block: { kg: Float64Array.from({ length: many }, (_, at) => at + 100) } })
  const top = rowsOf({ levels: [{ key: 'kg' }], tallies: kg, top: [{ by: 'total', count: 1 }] }, book)
  expect(top.map(([level, key, others]) => [level, key, others])).toEqual([
    [1, many + 99, null],
    [1, null, many + 4],
    [0, null, null],
  ])
})

describe('as text', () => {
  test.each([
    ['hive, flow', [{ key: 'hive' }, { key: 'flow' }]],
    ["month = text(taken, 'yyyy,MM'), (a = b)", [{ name: 'month', key: "text(taken, 'yyyy,MM')" }, { key: '(a = b)' }]],
    ['`a, b` = hive.yard.name', [{ name: 'a, b', key: 'hive.yard.name' }]],
  ])('levels: %s', (text, levels) => expect(parseLevels(text)).toEqual(levels))

  test.each([
    ['total', [{ by: 'total', descending: false }]],
    [
      'total desc, mean asc at site',
      [
        { by: 'total', descending: true, level: 'site' },
        { by: 'mean', descending: false, level: 'site' },
      ],
    ],
    ['`desc` desc', [{ by: 'desc', descending: true }]],
    ['at at at', [{ by: 'at', descending: false, level: 'at' }]],
  ])('an order: %s', (text, order) => expect(parseViewOrder(text)).toEqual(order))

  test.each([
    ['5 by total', { count: 5, by: 'total' }],
    ['1 by `at` asc at site', { count: 1, by: 'at', ascending: true, level: 'site' }],
  ])('groups shown: %s', (text, top) => expect(parseViewTop(text)).toEqual(top))

  test.each([
    ['season number = 2026', { name: 'season', type: 'number', value: '2026' }],
    ['`the day` date =2026-03-01 ', { name: 'the day', type: 'date', value: '2026-03-01' }],
    ["who text = it's = me", { name: 'who', type: 'text', value: "it's = me" }],
  ])('a parameter: %s', (text, parameter) => expect(parseViewParameter(text)).toEqual(parameter))

  test.each<[(text: string) => unknown, string, RegExp]>([
    [parseLevels, 'hive,', /levels: expected keys .* found nothing/],
    [parseViewOrder, 'total desc flow', /found "flow"/],
    [parseViewOrder, '', /found the end/],
    [parseViewTop, 'five by total', /found "five"/],
    [parseViewTop, '1.5 by total', /found "1.5"/],
    [parseViewTop, '5 total', /found "total"/],
    [parseViewTop, '5 by total desc now', /found "now"/],
    [parseViewParameter, 'season = 2026', /found "="/],
    [parseViewParameter, 'season year = 2026', /found "year"/],
  ])('%o of "%s" is refused', (parse, text, message) => {
    expect(() => parse(text)).toThrow(message)
  })
})
