import { demoOperations, thistleAndComb } from '@mellow-abacus/demo'
import { Workbook } from 'mellow-abacus'

/** A workbook with the demo tables and two calculated columns to begin with. */
export function openDemoBook(): Workbook {
  const book = new Workbook({ now: Date.parse('2026-11-23T09:00:00Z') })
  book.apply(demoOperations(thistleAndComb()))
  book.apply([
    {
      op: 'add-column',
      table: 'inspections',
      column: { name: 'infestation', formula: '100 * mites per bees_sampled', decimals: 2, unit: '%' },
      before: 'brood_frames',
    },
    {
      op: 'add-column',
      table: 'inspections',
      column: {
        name: 'act',
        formula: 'case when infestation is blank then "sample again" when infestation > 3 then "treat" else "wait" end',
      },
      before: 'brood_frames',
    },
    {
      op: 'add-column',
      table: 'batches',
      column: { name: 'mark', formula: "join('-', site, forage, lot)" },
      before: 'extracted',
    },
    {
      op: 'add-column',
      table: 'batches',
      column: { name: 'wait', formula: 'days_between(extracted, bottled)', unit: 'd' },
      before: 'moisture',
    },
    { op: 'add-column', table: 'harvests', column: { name: 'yield', formula: 'honey_kg per frames', unit: 'kg', decimals: 2 } },
    {
      op: 'add-column',
      table: 'harvests',
      column: { name: 'shortfall', formula: 'spring_estimate_kg - honey_kg', unit: 'kg', decimals: 2 },
    },
  ])
  return book
}
