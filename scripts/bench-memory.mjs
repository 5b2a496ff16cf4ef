// What ten million rows take in a process of its own: brought in as column blocks, calculated, calculated again. Prints JSON.
import { readFileSync } from 'node:fs'
import { Workbook } from 'mellow-abacus'
import { BLOCK_ROWS, Column, makeVector } from 'mellow-abacus/storage'

const ROWS = 10_000_000
const rss = () => {
  globalThis.gc()
  globalThis.gc()
  return Math.round(process.memoryUsage().rss / 1e6)
}

/** The most this process has held, in MB; what the system counts for a child of a large process begins with the parent's. */
const peak = () => Math.round((Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))?.[1]) * 1024) / 1e6)

/** A column of numbers with fractions, block by block, so that nothing else than the column takes memory. */
function column(step) {
  const made = new Column('number')
  for (let first = 0; first < ROWS; first += BLOCK_ROWS) {
    const count = Math.min(BLOCK_ROWS, ROWS - first)
    const block = makeVector('number', count)
    for (let row = 0; row < count; row++) {
      block.status[row] = 0
      block.values[row] = (((first + row) * (7919 + step * 2)) % 1000) / 8 + step
    }
    made.adopt(block, count)
  }
  return made
}

const book = new Workbook()
const names = ['a', 'b', 'c', 'd', 'e', 'f']
book.apply({ op: 'add-table', table: 't', columns: names.map((name) => ({ name, type: 'number' })) })
book.apply({ op: 'insert-rows', table: 't', block: Object.fromEntries(names.map((name, step) => [name, column(step)])) })
const formulas = {
  p: 'a * b + c',
  q: 'case when b > 50 then p - d else p end',
  r: 'e / f',
  s: 'q + r',
}
book.apply(Object.entries(formulas).map(([name, formula]) => ({ op: 'add-column', table: 't', column: { name, formula } })))
const rest = rss()
for (const [name, formula] of Object.entries(formulas))
  book.apply({ op: 'change-column', table: 't', column: name, set: { formula: `${formula} + 1` } })
const bytes = book.table('t').columns.reduce((sum, one) => sum + one.byteLength(), 0) / ROWS / 10
process.stdout.write(JSON.stringify({ rest, peak: peak(), bytes: bytes.toFixed(1) }))
