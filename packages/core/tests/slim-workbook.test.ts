import { expect, test } from 'vitest'
import {
  explanationOf,
  languageOf,
  type Operation,
  Refusal,
  type ShownValue,
  SlimWorkbook,
  traceOf,
  Workbook,
  whyOf,
} from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** A workbook without answers for people: it calculates as every workbook does, and a program asks functions instead. */

const OPERATIONS: Operation[] = [
  {
    op: 'add-table',
    table: 'harvests',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'honey_kg', type: 'number' },
      { name: 'frames', type: 'integer' },
      { name: 'per_frame', formula: 'honey_kg / frames' },
      { name: 'share', formula: 'share(honey_kg)' },
    ],
  },
  { op: 'insert-rows', table: 'harvests', block: { hive: ['H1', 'H2', 'H3'], honey_kg: [12, 18, 9], frames: [6, 9, 0] } },
  { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'honey_kg', value: 27 }] },
]

function both(): [slim: SlimWorkbook, full: Workbook] {
  const books: [SlimWorkbook, Workbook] = [new SlimWorkbook({ now: 0 }), new Workbook({ now: 0 })]
  for (const book of books) for (const operation of OPERATIONS) book.apply(operation)
  return books
}

function cellsOf(book: SlimWorkbook): readonly (readonly ShownValue[])[] {
  return book.table('harvests').columns.map((column) => column.values())
}

test('it calculates, checks and previews as a workbook does', () => {
  const [slim, full] = both()
  const edit: Operation = { op: 'set-cells', table: 'harvests', cells: [{ row: 3, column: 'frames', value: 3 }] }
  const told = (book: SlimWorkbook) => structuredClone([book.check(), book.preview(edit), book.apply(edit), book.undo()])
  expect(told(slim)).toEqual(told(full))
  expect(cellsOf(slim)).toEqual(cellsOf(full))
})

test('it has no answers, nor has its view; functions give those that a workbook gives', () => {
  const [slim, full] = both()
  for (const name of ['group', 'why', 'trace', 'explain', 'language']) {
    expect([name in slim, name in slim.view, name in full, name in full.view]).toEqual([false, false, true, true])
  }
  expect(whyOf(slim, 'harvests.share', 2)).toEqual(full.why('harvests.share', 2))
  expect(whyOf(slim.view, 'harvests.share', 2)).toEqual(full.view.why('harvests.share', 2))
  expect(traceOf(slim, 'harvests.honey_kg')).toEqual(full.trace('harvests.honey_kg'))
  expect(explanationOf(slim, 'harvests', 'per_frame')).toEqual(full.explain('harvests', 'per_frame'))
  expect(languageOf(slim, 'harvests').hover('round(1)', 1)).toEqual(full.language('harvests').hover('round(1)', 1))
  expect(() => whyOf(slim, 'harvests.share', 9)).toThrow(Refusal)
})

test('each opens as what it is', () => {
  const [slim] = both()
  const stored = new StoredBook()
  stored.save(slim)
  const opened = [SlimWorkbook.open(stored.snapshot, stored.cells), Workbook.open(stored.snapshot, stored.cells)]
  expect(opened.map((book) => book instanceof Workbook)).toEqual([false, true])
  for (const book of opened) expect(cellsOf(book)).toEqual(cellsOf(slim))
})
