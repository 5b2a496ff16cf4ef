import { type Operation, Workbook } from '../../src/index.js'

/** What is hidden from the group `buyers` in one of two workbooks that are alike but for that. */
export interface Secret {
  readonly name: string
  readonly type?: 'number' | 'text' | 'date'
  readonly formula?: string
  readonly values?: readonly (number | string | null)[]
  readonly note?: string
  readonly unit?: string
}

/** Hives of the honey co-operative with a column that is hidden from buyers, and formulas that read it beside those that do not. */
export function cooperative({ name, type, formula, values = [], ...described }: Secret): Workbook {
  const column = formula === undefined ? { name, type: type ?? 'number', ...described } : { name, formula, ...described }
  const asNumber = (type ?? 'number') === 'number' ? `\`${name}\`` : `length(text(\`${name}\`))`
  const filled: Operation[] = formula === undefined ? [{ op: 'fill-column', table: 'hives', column: name, values }] : []
  const book = new Workbook({ now: '2026-06-30T08:00:00' })
  book.apply(
    [
      {
        op: 'add-table',
        table: 'apiaries',
        columns: [
          { name: 'code', type: 'text' },
          { name: 'honey_price', type: 'number', unit: 'EUR' },
        ],
      },
      { op: 'insert-rows', table: 'apiaries', rows: ['North', 'Fen', 'Mill'].map((code, at) => ({ code, honey_price: 9 + at })) },
      {
        op: 'add-table',
        table: 'hives',
        columns: [
          { name: 'label', type: 'text' },
          { name: 'apiary', type: 'text' },
          { name: 'kg', type: 'number', unit: 'kg', tags: ['amount'] },
          { name: 'boxes', type: 'integer' },
        ],
      },
      {
        op: 'change-table',
        table: 'hives',
        set: { label: 'label', source: { file: 'hives.csv', options: { type: [`${name}=number`] } } },
      },
      {
        op: 'insert-rows',
        table: 'hives',
        rows: Array.from({ length: 8 }, (_, at) => ({
          label: `Hive ${at + 1}`,
          apiary: ['North', 'Fen', 'Mill'][at % 3] as string,
          kg: at * 2.5,
          boxes: at % 4,
        })),
      },
      { op: 'add-link', table: 'hives', columns: ['apiary'], to: 'apiaries', keys: ['code'], name: 'home' },
      { op: 'add-column', table: 'hives', column },
    ],
    { author: 'Olga', at: '2026-06-01T08:00:00' },
  )
  book.apply(
    [
      ...filled,
      // Nothing that is seen depends on what is hidden: no hive has so many boxes.
      { op: 'add-column', table: 'hives', column: { name: 'score', formula: `if(boxes > 100, ${asNumber}, kg * 2)` } },
      { op: 'add-column', table: 'hives', column: { name: 'worth', formula: 'kg * home.honey_price' } },
      { op: 'add-column', table: 'hives', column: { name: 'share_of_kg', formula: 'kg per sum(kg by apiary)' } },
      { op: 'add-column', table: 'hives', column: { name: 'twice', formula: 'score + 1 / boxes' } },
      { op: 'set-tally', table: 'hives', name: 'all_kg', formula: 'sum(kg)' },
      { op: 'set-tally', table: 'hives', name: 'counted', formula: `count(kg) + 0 * count(${asNumber} where boxes > 100)` },
      { op: 'set-rule', table: 'hives', name: 'enough', condition: `kg > 1 or ${asNumber} > 1000000` },
      { op: 'set-rule', table: 'hives', name: 'boxed', condition: 'boxes > 0' },
      { op: 'set-value', name: 'limit', value: 5 },
      {
        op: 'set-report',
        name: 'by apiary',
        report: { table: 'hives', levels: [{ key: 'apiary' }], tallies: [{ name: 'kg', formula: 'sum(kg)' }] },
      },
      { op: 'set-report', name: 'secret', report: { table: 'hives', levels: [{ key: `\`${name}\`` }] } },
      { op: 'set-chart', name: 'kg', chart: { table: 'hives', x: 'label', series: [{ formula: 'kg', kind: 'bar' }] } },
      { op: 'set-chart', name: 'drawn', chart: { table: 'hives', x: 'kg', series: [{ formula: asNumber, kind: 'point' }] } },
      { op: 'set-metadata', name: 'layout', value: { columns: [name] } },
      { op: 'change-column', table: 'hives', column: name, set: { hiddenFrom: ['buyers'] } },
    ],
    { author: 'Olga', at: '2026-06-02T08:00:00' },
  )
  return book
}

/** What is hidden, in pairs of workbooks that are alike but for it: another name, type, formula, note and values. */
export const SECRETS: readonly (readonly [string, Secret, Secret])[] = [
  ['its values', { name: 'cost', values: [4, 5, 7, 1, 2, 3, 4, 5] }, { name: 'cost', values: [null, 0, -7, 1e300, 2, 2, 2, 2] }],
  [
    'its name, note and unit',
    { name: 'cost', values: [4, 5, 7, 1, 2, 3, 4, 5], note: 'what the hive cost', unit: 'EUR' },
    { name: 'kgs', values: [1, 1, 1, 1, 1, 1, 1, 1] },
  ],
  [
    'its type',
    { name: 'buyer', type: 'text', values: ['Ada', 'Ben', null, 'Ada', 'Eve', '', 'Ida', 'Uwe'] },
    { name: 'sold', type: 'date', values: ['2026-01-05', null, '2026-02-01', null, null, null, null, null] },
  ],
  [
    'whether a formula gives it',
    { name: 'cost', values: [4, 5, 7, 1, 2, 3, 4, 5] },
    { name: 'hidden_worth', formula: '1 / (boxes - 1)' },
  ],
]
