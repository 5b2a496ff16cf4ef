import { describe, expect, test } from 'vitest'
import { type Finding, OPERATION_NAMES, type OperationJson, Workbook } from '../src/index.js'

/** Every operation: applied and undone the workbook is as before, redone as after; and its operations repeat it elsewhere. */

/** Findings about the misfits of two columns of `harvests`, by the ids of the columns. */
const MISFIT_IN_TAKEN = { id: 2, code: 'misfits', from: null, to: null }
const MISFIT_IN_KG = { id: 3, code: 'misfits', from: null, to: null }

const samples: Record<string, OperationJson[]> = {
  'change-table': [
    { op: 'change-table', table: 'harvests', set: { label: 'taken' } },
    { op: 'change-table', table: 'harvests', set: { label: null, key: null, source: { file: 'a.csv', options: {} } } },
    { op: 'change-table', table: 'hives', set: { key: ['tag'] } },
    { op: 'change-table', table: 'rates', set: { source: null } },
  ],
  'add-table': [
    {
      op: 'add-table',
      table: 'new',
      columns: [
        { name: 'a', type: 'date' },
        { name: 'b', formula: 'a + 1', unit: 'd' },
      ],
    },
  ],
  'remove-table': [{ op: 'remove-table', table: 'rates' }],
  'add-column': [
    { op: 'add-column', table: 'harvests', column: { name: 'yield', formula: 'honey_kg per frames' }, before: 'taken' },
    {
      op: 'add-column',
      table: 'harvests',
      column: { name: 'note', type: 'text', note: 'by hand' },
      values: ['x', null, '', 'y'],
    },
    { op: 'add-column', table: 'harvests', column: { name: 'empty' } },
  ],
  'change-column': [
    { op: 'change-column', table: 'harvests', column: 'double', set: { formula: 'honey_kg * 3', decimals: 1 } },
    { op: 'change-column', table: 'harvests', column: 'frames', set: { type: 'text' } },
    { op: 'change-column', table: 'harvests', column: 'taken', set: { type: 'datetime', heading: 'Taken off' } },
    { op: 'change-column', table: 'harvests', column: 'hive', set: { unit: 'tag', tags: ['key'], hidden: true } },
    { op: 'change-column', table: 'harvests', column: 'double', set: { type: 'integer' } },
  ],
  'rename-column': [
    { op: 'rename-column', table: 'harvests', column: 'honey_kg', to: 'honey in kg' },
    { op: 'rename-column', table: 'harvests', column: 'hive', to: 'HIVE' },
  ],
  'remove-column': [
    { op: 'remove-column', table: 'harvests', column: 'frames', dependants: 'detach' },
    { op: 'remove-column', table: 'harvests', column: 'double', dependants: 'remove' },
    { op: 'remove-column', table: 'hives', column: 'kg' },
    { op: 'remove-column', table: 'harvests', column: 'honey_kg', dependants: 'remove' },
    { op: 'remove-column', table: 'hives', column: 'frames', dependants: 'detach' },
  ],
  'detach-column': [{ op: 'detach-column', table: 'harvests', column: 'double' }],
  'insert-rows': [
    { op: 'insert-rows', table: 'harvests', rows: [{ hive: 'a' }, { honey_kg: 2, frames: 1 }], before: 2 },
    { op: 'insert-rows', table: 'harvests', block: { frames: [1, 2, null] } },
    { op: 'insert-rows', table: 'harvests', rows: [{ frames: 9 }, { frames: 8 }], places: [1, 4] },
    { op: 'insert-rows', table: 'harvests', count: 2 },
    { op: 'insert-rows', table: 'harvests', rows: [] },
  ],
  'remove-rows': [
    { op: 'remove-rows', table: 'harvests', rows: [1, 4, 3] },
    { op: 'remove-rows', table: 'harvests', rows: [1, 2, 3, 4] },
    { op: 'remove-rows', table: 'harvests', rows: [] },
  ],
  'set-cells': [
    {
      op: 'set-cells',
      table: 'harvests',
      cells: [
        { row: 1, column: 'honey_kg', value: 7 },
        { row: 1, column: 'honey_kg', value: { misfit: 'much' } },
        { row: 4, column: 'taken', value: null },
      ],
    },
    { op: 'set-cells', table: 'harvests', cells: [] },
  ],
  'rename-table': [
    { op: 'rename-table', table: 'hives', to: 'colonies of ours' },
    { op: 'rename-table', table: 'harvests', to: 'takes' },
  ],
  'add-link': [
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'], name: 'other' },
    { op: 'add-link', table: 'hives', columns: ['tag', 'frames'], to: 'harvests', keys: ['hive', 'honey_kg'] },
  ],
  'remove-link': [{ op: 'remove-link', table: 'hives', name: 'self' }],
  'set-function': [
    { op: 'set-function', name: 'per_hundred', parameters: ['part', 'whole'], formula: '1000 * part per whole' },
    { op: 'set-function', name: 'halved', parameters: ['x: number'], formula: 'per_hundred(x, 200)', note: 'Half of it' },
    { op: 'set-function', name: 'early', parameters: ['x'], formula: 'x', before: 'per_hundred' },
  ],
  'remove-function': [{ op: 'remove-function', name: 'tare' }],
  'rename-function': [{ op: 'rename-function', name: 'per_hundred', to: 'percentage' }],
  'set-value': [
    { op: 'set-value', name: 'price', value: 5 },
    { op: 'set-value', name: 'price', formula: 'sum(every harvests.honey_kg)' },
    { op: 'set-value', name: 'income', value: null },
    { op: 'set-value', name: 'opened', value: '2026-03-01', type: 'date' },
    { op: 'set-value', name: 'half', formula: 'price / 2' },
  ],
  'remove-value': [
    { op: 'remove-value', name: 'income' },
    { op: 'remove-value', name: 'note' },
  ],
  'set-report': [
    { op: 'set-report', name: 'kept', report: { table: 'harvests', tallies: [{ name: 'n', formula: 'count()' }] } },
    { op: 'set-report', name: 'first', before: 'by_hive', report: { table: 'hives', levels: [{ key: 'tag' }] } },
    { op: 'set-report', name: 'by_hive', report: { table: 'harvests', levels: [{ key: 'frames' }] } },
  ],
  'remove-report': [{ op: 'remove-report', name: 'by_hive' }],
  'set-chart': [
    { op: 'set-chart', name: 'kept', chart: { table: 'harvests', x: 'frames', series: [{ formula: 'honey_kg', kind: 'bar' }] } },
    { op: 'set-chart', name: 'first', before: 'frames', chart: { report: 'tags', series: [{ formula: 'n', kind: 'line' }] } },
    { op: 'set-chart', name: 'frames', chart: { table: 'harvests', x: 'hive', series: [{ formula: 'frames', kind: 'point' }] } },
  ],
  'remove-chart': [{ op: 'remove-chart', name: 'frames' }],
  'set-tally': [
    { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(frames)', unit: 'kg', decimals: 1 },
    { op: 'set-tally', table: 'harvests', name: 'spare', formula: 'count()', note: null },
    { op: 'set-tally', table: 'harvests', name: 'mean_kg', formula: 'total_kg / count()' },
    { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(frames)' },
  ],
  'move-column': [
    { op: 'move-column', table: 'harvests', column: 'frames', before: 'hive' },
    { op: 'move-column', table: 'harvests', column: 'hive' },
    { op: 'move-column', table: 'harvests', column: 'hive', before: 'hive' },
  ],
  'move-rows': [
    { op: 'move-rows', table: 'harvests', rows: [4, 1], before: 3 },
    { op: 'move-rows', table: 'harvests', rows: [2] },
    { op: 'move-rows', table: 'harvests', rows: [3, 2], places: [1, 4] },
    { op: 'move-rows', table: 'harvests', rows: [] },
  ],
  'pause-column': [
    { op: 'pause-column', table: 'harvests', column: 'double' },
    { op: 'pause-column', table: 'hives', column: 'kg' },
  ],
  'fill-column': [
    { op: 'fill-column', table: 'harvests', column: 'honey_kg', formula: 'row_number() * 2' },
    { op: 'fill-column', table: 'harvests', column: 'frames', formula: '10 - frames' },
  ],
  'set-surroundings': [
    { op: 'set-surroundings', zone: 'Europe/Oslo' },
    { op: 'set-surroundings', locale: 'tr' },
    { op: 'set-surroundings', zone: 'Asia/Tokyo', locale: 'de' },
  ],
  'reread-rows': [
    {
      op: 'reread-rows',
      gone: 'drop',
      order: 'source',
      table: 'harvests',
      block: { hive: ['LM-02', 'LM-03', 'LM-01'], honey_kg: [1, 2, 12.5], taken: [null, '2026-07-01', { misfit: 'soon' }] },
      key: ['hive'],
    },
    { op: 'reread-rows', table: 'harvests', block: { frames: [5, 4, 3] }, gone: 'drop' },
    { op: 'reread-rows', table: 'harvests', block: { honey_kg: [5] }, gone: 'keep' },
    { op: 'reread-rows', table: 'harvests', block: { hive: [] }, gone: 'drop' },
  ],
  'resume-column': [{ op: 'resume-column', table: 'rates', column: 'paused', discard: 1 }],
  'set-metadata': [
    { op: 'set-metadata', name: 'app', value: { schema: 3, parts: [1, null, 'a'] } },
    { op: 'set-metadata', name: 'none', value: null },
  ],
  'set-mode': [
    { op: 'set-mode', mode: 'on-demand' },
    { op: 'set-mode', mode: 'live' },
  ],
  recalculate: [
    { op: 'recalculate' },
    { op: 'recalculate', columns: ['harvests.double', 'value:income', 'tally:harvests.total_kg'] },
  ],
  tick: [
    { op: 'tick', now: '2026-04-01T08:00:00' },
    { op: 'tick', now: '2026-04-01', seed: 7 },
  ],
  'remove-tally': [{ op: 'remove-tally', table: 'harvests', name: 'spare' }],
  'set-rule': [
    { op: 'set-rule', table: 'harvests', name: 'some honey', condition: 'honey_kg > 5', note: 'weigh again', blankIsWrong: true },
    { op: 'set-rule', table: 'hives', name: 'framed', condition: 'frames > 20', severity: 'hint' },
    { op: 'set-rule', table: 'rates', name: 'cheap', condition: 'dearest < 2', before: 'dear' },
  ],
  'remove-rule': [{ op: 'remove-rule', table: 'hives', name: 'framed' }],
  'set-stamp': [
    { op: 'set-stamp', table: 'hives', column: 'seen', stamp: { when: ['tag'] } },
    { op: 'set-stamp', table: 'hives', column: 'seen', stamp: { when: ['frames', 'tag'], on: 'each-change' } },
    { op: 'set-stamp', table: 'rates', column: 'changed', stamp: null },
    { op: 'set-stamp', table: 'rates', column: 'changed', stamp: { when: ['price', 'code'], content: 'author' } },
  ],
  'stamp-cells': [{ op: 'stamp-cells', table: 'rates', column: 'changed', rows: [1], value: 'somebody else' }],
  'accept-finding': [
    { op: 'accept-finding', ...MISFIT_IN_TAKEN, because: 'to be asked', at: '2026-03-01T08:00:00', rows: 'some' },
  ],
  'withdraw-acceptance': [{ op: 'withdraw-acceptance', ...MISFIT_IN_KG }],
}

function harvests(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'taken', type: 'date' },
        { name: 'honey_kg', type: 'number' },
        { name: 'frames' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'LM-01', taken: '2026-06-01', honey_kg: 12.5, frames: 5 },
        { hive: 'LM-02', honey_kg: { misfit: 'n/a' }, frames: 4 },
        {},
        { taken: { misfit: 'June' }, honey_kg: 3, frames: 0 },
      ],
    },
    { op: 'add-column', table: 'harvests', column: { name: 'double', formula: 'honey_kg * 2' } },
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
      ],
    },
    { op: 'insert-rows', table: 'hives', rows: [{ tag: 'LM-01', frames: 9 }, { tag: 'LM-02' }] },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    { op: 'add-link', table: 'hives', columns: ['tag'], to: 'hives', keys: ['tag'], name: 'self' },
    { op: 'change-table', table: 'harvests', set: { label: 'hive', key: ['hive', 'taken'] } },
    { op: 'set-function', name: 'tare', parameters: [], formula: '0.5' },
    { op: 'set-function', name: 'per_hundred', parameters: ['part', 'whole'], formula: '100 * part per whole' },
    { op: 'add-column', table: 'harvests', column: { name: 'share', formula: 'per_hundred(honey_kg, 4)' } },
    { op: 'set-value', name: 'price', value: 4.5 },
    { op: 'set-value', name: 'note', value: 'by hand' },
    { op: 'set-value', name: 'income', formula: 'harvests.total_kg * price' },
    { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(double)' },
    { op: 'set-tally', table: 'harvests', name: 'spare', formula: 'count()' },
    {
      op: 'add-table',
      table: 'rates',
      columns: [
        { name: 'code', type: 'text' },
        { name: 'price', type: 'number' },
      ],
    },
    { op: 'insert-rows', table: 'rates', rows: [{ code: 'a', price: 2 }] },
    { op: 'change-table', table: 'rates', set: { label: 'code', source: { file: 'rates.csv', options: { decimal: ',' } } } },
    { op: 'add-link', table: 'rates', columns: ['code'], to: 'hives', keys: ['tag'] },
    { op: 'set-tally', table: 'rates', name: 'dearest', formula: 'max(price)', unit: 'EUR' },
    {
      op: 'set-report',
      name: 'by_hive',
      report: { table: 'harvests', levels: [{ key: 'hive' }], tallies: [{ name: 'n', formula: 'count()' }] },
    },
    { op: 'set-report', name: 'last', report: { table: 'hives' } },
    {
      op: 'set-report',
      name: 'tags',
      report: { table: 'hives', levels: [{ key: 'tag' }], tallies: [{ name: 'n', formula: 'count()' }] },
    },
    {
      op: 'set-chart',
      name: 'frames',
      chart: { table: 'harvests', x: 'hive', series: [{ formula: 'length(hive)', kind: 'bar' }] },
    },
    { op: 'set-chart', name: 'last', chart: { report: 'tags', series: [{ formula: 'n', kind: 'bar' }] } },
    { op: 'add-column', table: 'rates', column: { name: 'size', formula: 'code.frames * price' } },
    { op: 'add-column', table: 'rates', column: { name: 'paused', formula: 'price * 2' } },
    { op: 'add-column', table: 'rates', column: { name: 'due', formula: "text(now(), 'yyyy-MM-dd HH:mm') & random()" } },
    { op: 'set-rule', table: 'hives', name: 'framed', condition: 'length(tag) > 5' },
    { op: 'set-rule', table: 'rates', name: 'dear', condition: 'price > 2' },
    { op: 'add-column', table: 'hives', column: { name: 'seen' } },
    { op: 'add-column', table: 'rates', column: { name: 'changed' } },
    { op: 'set-stamp', table: 'rates', column: 'changed', stamp: { when: ['price'], on: 'each-change', content: 'author' } },
    { op: 'add-column', table: 'hives', column: { name: 'kg', formula: 'count(every harvests.frames where hive = this.tag)' } },
  ])
  book.apply({ op: 'pause-column', table: 'rates', column: 'paused' })
  book.apply({ op: 'set-cells', table: 'rates', cells: [{ row: 1, column: 'paused', value: 9 }] })
  book.apply({ op: 'set-cells', table: 'rates', cells: [{ row: 1, column: 'price', value: 3 }] }, { author: 'ada' })
  const [misfits] = book.check().filter(({ code, column }) => code === 'misfits' && column === 'honey_kg')
  book.apply(book.accepting(misfits as Finding, 'known since May'))
  return book
}

const picture = (book: Workbook): unknown => [
  book.check(),
  book.accepted(),
  book.values.map((name) => [name, book.value(name)]),
  book.reports.map((name) => [name, book.reportDefinition(name)]),
  book.charts.map((name) => [name, book.chartDefinition(name)]),
  ...book.tables.map((name) => {
    const table = book.table(name)
    return [
      name,
      table.rowIds(),
      table.columns.map((column) => [
        column.name,
        column.type,
        column.formula,
        column.isPaused,
        column.typedIds(),
        column.properties,
        column.values(),
        column.findings().map((one) => one.code),
      ]),
      table.properties,
      table.links,
      table.tallies.map((tally) => [tally, table.tally(tally), table.tallyFacts(tally)]),
    ]
  }),
]

test('every operation has a sample', () => expect(Object.keys(samples).sort()).toEqual([...OPERATION_NAMES].sort()))

describe.each(Object.entries(samples))('%s', (_, operations) => {
  test.each(operations.map((operation) => [JSON.stringify(operation).slice(0, 90), operation] as const))(
    '%s',
    (_label, operation) => {
      const book = harvests()
      const before = picture(book)
      const repeated = harvests()
      const change = book.applyJson(operation)
      const after = picture(book)
      book.undo()
      expect(picture(book)).toEqual(before)
      book.redo()
      expect(picture(book)).toEqual(after)
      book.undo()
      expect(picture(book)).toEqual(before)
      repeated.applyJson(JSON.parse(JSON.stringify(change.operations)))
      expect(picture(repeated)).toEqual(after)
    },
  )
})
