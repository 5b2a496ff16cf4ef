// What bringing a million rows of eight columns into a workbook takes, and whether `memory()` says what the process holds
// then, in a process of its own: `rows`, `lists` or `arrays`. Prints JSON.
import { Workbook } from 'mellow-abacus'

const ROWS = 1_000_000
const kind = process.argv[2]
const SITES = Array.from({ length: 700 }, (_, place) => `site-${10_000 + place}`)
const day = (row) => 20_000 + (row % 3000)

/** The columns: how each is declared, and its cell of a row as typed arrays and as records have it. */
const COLUMNS = {
  site: { type: 'text', cell: (row) => SITES[(row * 31) % SITES.length] },
  seen: { type: 'date', cell: (row) => new Date(day(row) * 86_400_000).toISOString().slice(0, 10) },
  strong: { type: 'boolean', cell: (row) => row % 3 === 0 },
  boxes: { type: 'integer', cell: (row) => (row * 7919) % 50_021 },
  ...Object.fromEntries(
    ['honey', 'stores', 'mites', 'brood'].map((name, place) => [
      name,
      { type: 'number', cell: (row) => ((row * 7919) % 100_003) / 8 + place },
    ]),
  ),
}
const names = Object.keys(COLUMNS)
const list = (name) => Array.from({ length: ROWS }, (_, row) => COLUMNS[name].cell(row))

/** Arrays of numbers hold no texts and no truths: those columns are numbers then. */
const typed = () => Object.fromEntries(names.map((name) => [name, Float64Array.from({ length: ROWS }, (_, row) => row / 8)]))
const given = {
  rows: () => ({
    rows: Array.from({ length: ROWS }, (_, row) => Object.fromEntries(names.map((name) => [name, COLUMNS[name].cell(row)]))),
  }),
  lists: () => ({ block: Object.fromEntries(names.map((name) => [name, list(name)])) }),
  arrays: () => ({ block: typed() }),
}[kind]

/** Bytes that the process holds: its own objects and the arrays beside them. */
async function held() {
  for (let turn = 0; turn < 4; turn++) {
    globalThis.gc()
    await new Promise((resolve) => setTimeout(resolve, 20))
  }
  const { heapUsed, external } = process.memoryUsage()
  return heapUsed + external
}

/** Brings the rows in, and lets go of what they were given as; says how long it took. */
function bringIn() {
  const operation = { op: 'insert-rows', table: 't', ...given() }
  const from = performance.now()
  book.apply(operation)
  return performance.now() - from
}

// What all workbooks share is there before: code, and the memory that block loops work in.
new Workbook().apply([
  { op: 'add-table', table: 't', columns: [{ name: 'a', type: 'number' }] },
  { op: 'insert-rows', table: 't', block: { a: new Float64Array(5000) } },
  { op: 'add-column', table: 't', column: { name: 'b', formula: 'a + 1' } },
])
const book = new Workbook()
const columns = names.map((name) => ({ name, type: kind === 'arrays' ? 'number' : COLUMNS[name].type }))
book.apply({ op: 'add-table', table: 't', columns })
const before = await held()
const took = bringIn()
for (const [name, formula] of Object.entries({
  load: 'honey + stores * 2',
  total: 'sum(honey by boxes)',
  typical: 'median(mites by brood)',
}))
  book.apply({ op: 'add-column', table: 't', column: { name, formula } })
const after = await held()
const { bytes } = book.memory()
process.stdout.write(JSON.stringify({ took, told: bytes / 1e6, held: (after - before) / 1e6 }))
