import { Workbook } from '../../src/index.js'

/** A workbook with two inspections, one of them without a sample, and how many mites a hundred bees carry. */
export function inspections(): Workbook {
  const book = new Workbook()
  book.apply({
    op: 'add-table',
    table: 'inspections',
    columns: [
      { name: 'mites', type: 'number' },
      { name: 'bees_sampled', type: 'integer' },
    ],
  })
  book.apply({
    op: 'insert-rows',
    table: 'inspections',
    rows: [
      { mites: 9, bees_sampled: 300 },
      { mites: 4, bees_sampled: 0 },
    ],
  })
  book.apply({ op: 'add-column', table: 'inspections', column: { name: 'infestation', formula: '100 * mites per bees_sampled' } })
  return book
}
