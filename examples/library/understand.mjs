// A workbook in a program: links, previews, why and trace, calculation on demand, pausing. Run it with
//   node examples/library/understand.mjs
import { derivationText, Refusal, traceText, Workbook } from 'mellow-abacus'

const book = new Workbook()
book.apply([
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'tag', type: 'text' },
      { name: 'frames', type: 'number' },
    ],
  },
  {
    op: 'add-table',
    table: 'harvests',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'honey_kg', type: 'number' },
      { name: 'per_frame', formula: 'honey_kg per hive.frames' },
      { name: 'share', formula: 'share(honey_kg by hive)' },
    ],
  },
  { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
  { op: 'add-column', table: 'hives', column: { name: 'total_kg', formula: 'sum(harvests.honey_kg)' } },
  {
    op: 'insert-rows',
    table: 'hives',
    rows: [
      { tag: 'LM-01', frames: 10 },
      { tag: 'LM-02', frames: 8 },
    ],
  },
  {
    op: 'insert-rows',
    table: 'harvests',
    rows: [
      { hive: 'LM-01', honey_kg: 12.5 },
      { hive: 'LM-02', honey_kg: 6 },
      { hive: 'LM-01', honey_kg: 7.5 },
      { hive: 'lm-02', honey_kg: 3 },
    ],
  },
])

console.log('What the checker says:')
for (const { message, fixes } of book.check())
  console.log(`  ${message}${fixes[0] === undefined ? '' : ` Fix: ${fixes[0].title}.`}`)

console.log('\nWhat an edit would do, before doing it:')
const preview = book.preview({ op: 'set-cells', table: 'harvests', cells: [{ row: 3, column: 'honey_kg', value: 0 }] })
for (const { table, column, changed, rows } of preview.columns)
  console.log(
    `  ${table}.${column}: ${changed} ${changed === 1 ? 'cell' : 'cells'}, as row ${rows[0]?.rowNumber}: ${rows[0]?.before} → ${rows[0]?.result}`,
  )

console.log('\nWhere a value comes from:')
console.log(derivationText(book.why('harvests.share', 1)))

console.log('\nWhat a column leads to:')
console.log(traceText(book.trace('harvests.honey_kg')))

console.log('\nOn demand, an edit marks what it reaches and calculates nothing:')
book.apply({ op: 'set-mode', mode: 'on-demand' })
const { stale } = book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'honey_kg', value: 9 }] })
for (const { table, column, rows } of stale) console.log(`  stale: ${table}.${column}, ${rows} ${rows === 1 ? 'row' : 'rows'}`)
const { recalculated } = book.apply({ op: 'recalculate' })
console.log(`  recalculated: ${recalculated.map(({ table, column }) => `${table}.${column}`).join(', ')}`)
book.apply({ op: 'set-mode', mode: 'live' })

console.log('\nA paused column is typed over; resuming it says what would be lost:')
book.apply({ op: 'pause-column', table: 'harvests', column: 'per_frame' })
book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'per_frame', value: 2 }] })
try {
  book.apply({ op: 'resume-column', table: 'harvests', column: 'per_frame' })
} catch (error) {
  if (!(error instanceof Refusal)) throw error
  console.log(`  ${error.message}`)
  book.apply(error.findings[0].fixes[0].operations)
}
console.log(`  per_frame again: ${book.table('harvests').column('per_frame').values().join(', ')}`)
