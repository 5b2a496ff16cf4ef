import { Workbook } from 'mellow-abacus'

/** A small part of the honey co-operative: hives, what was harvested of them, and what is made of it. */
export function coop(): Workbook {
  const book = new Workbook()
  book.applyJson([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'integer' },
      ],
    },
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'taken', type: 'date' },
      ],
    },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'T-1', frames: 10 },
        { tag: 'T-2', frames: 0 },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'T-1', kg: 12.5, taken: '2026-07-01' },
        { hive: 'T-1', kg: 8, taken: '2026-08-01' },
        { hive: 'T-2', kg: { misfit: 'about 3' }, taken: '2026-08-02' },
      ],
    },
    { op: 'set-value', name: 'price', value: 9.5 },
    { op: 'add-column', table: 'harvests', column: { name: 'worth', formula: 'kg * price' } },
    { op: 'add-column', table: 'harvests', column: { name: 'per_frame', formula: 'kg / hive.frames' } },
    { op: 'add-column', table: 'hives', column: { name: 'takes', formula: 'count(harvests)' } },
    { op: 'set-tally', table: 'harvests', name: 'most', formula: 'max(if_error(kg, blank))' },
    { op: 'set-rule', table: 'harvests', name: 'little', condition: 'kg < 10' },
  ])
  return book
}
