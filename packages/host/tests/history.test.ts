import { type Operation, Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { BookHost, heldWorkbook } from '../src/index.js'

/** What a buyer is told of steps on hives whose column `cost` is hidden from them in the end. */
async function toldOf(steps: readonly (Operation | readonly Operation[])[]): Promise<string[]> {
  const host = new BookHost(heldWorkbook(({ keep }) => new Workbook({ now: '2026-06-30', keep })))
  const owner = host.held.reader({ role: 'own', author: 'Olga' })
  owner.apply({
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'code', type: 'text' },
      { name: 'kg', type: 'number' },
      { name: 'cost', type: 'number' },
    ],
  })
  for (const step of steps) owner.apply(step)
  owner.apply({
    op: 'change-column',
    table: 'hives',
    column: host.held.view.table('hives').columns.at(2)?.name ?? '',
    set: { hiddenFrom: ['buyers'] },
  })
  const { steps: told } = await host.open({ groups: ['buyers'] }).history({ after: 1 })
  return told.map(({ revision, what }) => `${revision} ${what}`)
}

const cell = (column: string, value: number, row = 1): Operation => ({
  op: 'set-cells',
  table: 'hives',
  cells: [{ row, column, value }],
})
const row: Operation = { op: 'insert-rows', table: 'hives', rows: [{ kg: 1, cost: 2 }] }

describe('of what names something hidden nothing is told', () => {
  const cases: readonly (readonly [string, readonly (Operation | readonly Operation[])[], readonly string[]])[] = [
    ['rows, without their cells', [row], ['2 1 row added to hives']],
    ['cells that are hidden', [row, cell('cost', 3)], ['2 1 row added to hives']],
    ['cells of both', [row, [cell('kg', 3), cell('cost', 4)]], ['2 1 row added to hives', '3 hives.kg of row id:1 set to 3']],
    [
      'a formula that reads it, and one that does not',
      [
        { op: 'add-column', table: 'hives', column: { name: 'margin', formula: 'kg - cost' } },
        { op: 'add-column', table: 'hives', column: { name: 'twice', formula: 'let x = kg * 2 in x' } },
      ],
      ['3 hives.twice = let x = kg * 2 in x'],
    ],
    [
      'a formula with a tag, and one over rows',
      [
        { op: 'change-column', table: 'hives', column: 'cost', set: { tags: ['money'] } },
        { op: 'add-column', table: 'hives', column: { name: 'all', formula: 'sum_of(#money)' } },
        { op: 'add-column', table: 'hives', column: { name: 'sum', formula: 'sum(kg where cost > 1 by code)' } },
        { op: 'add-column', table: 'hives', column: { name: 'whole', formula: 'sum(kg where kg > 1 by code)' } },
      ],
      ['5 hives.whole = sum(kg where kg > 1 by code)'],
    ],
    [
      'names that it had before',
      [row, cell('cost', 3), { op: 'rename-column', table: 'hives', column: 'cost', to: 'price' }, cell('price', 4)],
      ['2 1 row added to hives'],
    ],
    [
      'names that others had when it had none of them',
      [row, cell('kg', 3), { op: 'rename-column', table: 'hives', column: 'kg', to: 'mass' }, cell('mass', 4)],
      [
        '2 1 row added to hives',
        '3 hives.kg of row id:1 set to 3',
        '4 hives.kg renamed to mass',
        '5 hives.mass of row id:1 set to 4',
      ],
    ],
    [
      'a column that took over the name of a hidden one',
      [
        row,
        cell('cost', 3),
        { op: 'rename-column', table: 'hives', column: 'cost', to: 'price' },
        { op: 'add-column', table: 'hives', column: { name: 'cost', type: 'number' } },
        cell('cost', 5),
      ],
      ['2 1 row added to hives', '5 hives.cost added', '6 hives.cost of row id:1 set to 5'],
    ],
    [
      'columns that are gone, which may have been hidden',
      [
        { op: 'add-column', table: 'hives', column: { name: 'gone', type: 'number' } },
        row,
        cell('gone', 3),
        { op: 'remove-column', table: 'hives', column: 'gone' },
      ],
      ['3 1 row added to hives'],
    ],
    [
      'what is said of it, and of others from whom something is hidden',
      [
        { op: 'change-column', table: 'hives', column: 'cost', set: { unit: 'EUR' } },
        { op: 'change-column', table: 'hives', column: 'kg', set: { unit: 'kg' } },
        { op: 'change-column', table: 'hives', column: 'kg', set: { hiddenFrom: ['keepers'] } },
      ],
      ['3 hives.kg: unit kg'],
    ],
    [
      'a rule, a tally, a value, a report',
      [
        { op: 'set-rule', table: 'hives', name: 'dear', condition: 'cost < 9' },
        { op: 'set-rule', table: 'hives', name: 'heavy', condition: 'kg > 1' },
        { op: 'set-tally', table: 'hives', name: 'n', formula: 'sum(cost)' },
        { op: 'set-value', name: 'limit', value: 4 },
        { op: 'set-report', name: 'r', report: { table: 'hives', levels: [{ key: 'code' }] } },
      ],
      ['3 rule heavy of hives: kg > 1', '5 value limit = 4'],
    ],
    [
      'a table under another name',
      [
        { op: 'rename-table', table: 'hives', to: 'colonies' },
        { op: 'rename-table', table: 'colonies', to: 'hives' },
      ],
      ['2 table hives renamed to colonies', '3 table colonies renamed to hives'].map((line) =>
        line.replace(/table (\w+) renamed/, '$1 renamed'),
      ),
    ],
  ]
  test.each(cases)('%s', async (_, steps, told) => {
    expect(await toldOf(steps)).toEqual(told)
  })

  test('who sees all is told of all', async () => {
    const host = new BookHost(heldWorkbook(({ keep }) => new Workbook({ keep })))
    host.held
      .reader({ role: 'own' })
      .apply({ op: 'add-table', table: 'hives', columns: [{ name: 'cost', type: 'number', hiddenFrom: ['buyers'] }] })
    const session = host.open({ role: 'define', groups: ['buyers'] })
    expect((await session.history()).steps.map(({ what }) => what)).toEqual(['table hives added with 1 column'])
    expect(await session.history({ after: 1 })).toEqual({ steps: [], next: null })
    await expect(session.history({ after: -1 })).rejects.toThrow('history, field after: expected a whole number from 0.')
  })
})
