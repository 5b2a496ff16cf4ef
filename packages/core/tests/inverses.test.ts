import { describe, expect, test } from 'vitest'
import { OPERATION_NAMES, type OperationInput, Workbook } from '../src/index.js'

/** Every operation: applied and undone the workbook is as before, redone as after; and its operations repeat it elsewhere. */

const samples: Record<string, OperationInput[]> = {
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
  'remove-table': [{ op: 'remove-table', table: 'harvests' }],
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
    { op: 'remove-column', table: 'harvests', column: 'hive' },
    { op: 'remove-column', table: 'harvests', column: 'double' },
    { op: 'remove-column', table: 'harvests', column: 'honey_kg', dependants: 'remove' },
    { op: 'remove-column', table: 'harvests', column: 'honey_kg', dependants: 'detach' },
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
}

function harvests(): Workbook {
  const book = new Workbook()
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
  ])
  return book
}

const picture = (book: Workbook): unknown =>
  book.tables.map((name) => {
    const table = book.table(name)
    return [
      name,
      table.rowIds(),
      table.columns.map((column) => [
        column.name,
        column.type,
        column.formula,
        column.properties,
        column.values(),
        column.findings().map((one) => one.code),
      ]),
    ]
  })

test('every operation has a sample', () => expect(Object.keys(samples).sort()).toEqual([...OPERATION_NAMES].sort()))

describe.each(Object.entries(samples))('%s', (_, operations) => {
  test.each(operations.map((operation) => [JSON.stringify(operation).slice(0, 90), operation] as const))(
    '%s',
    (_label, operation) => {
      const book = harvests()
      const before = picture(book)
      const repeated = harvests()
      const change = book.apply(operation)
      const after = picture(book)
      book.undo()
      expect(picture(book)).toEqual(before)
      book.redo()
      expect(picture(book)).toEqual(after)
      book.undo()
      expect(picture(book)).toEqual(before)
      repeated.apply(JSON.parse(JSON.stringify(change.operations)))
      expect(picture(repeated)).toEqual(after)
    },
  )
})
