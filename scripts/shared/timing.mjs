// How long a reader without rights waits for answers from two workbooks that differ only in what is hidden from them: in the name,
// type, formula and values of a column. Of each question the medians of alternated requests, first ones (behind an edit of someone
// else) and second ones; more than a tenth apart is too much. node scripts/shared/timing.mjs [rounds]
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { BookFile } from '../../packages/files/dist/index.js'
import { TokenFile } from '../../packages/server/dist/index.js'

const rounds = Number(process.argv[2] ?? 200)
const ROWS = 20_000
const MOST_APART = 0.1
const BOOKS = ['one', 'other']

/** A workbook of readings; what is hidden is a number that is typed, or a text that is calculated of all rows. */
function make(path, hidden) {
  const file = BookFile.create(path)
  const numbers = Array.from({ length: ROWS }, (_, at) => at)
  file.applyJson([
    {
      op: 'add-table',
      table: 'readings',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'readings',
      block: { hive: numbers.map((at) => `H${at % 500}`), kg: numbers.map((at) => at % 97) },
    },
    { op: 'add-column', table: 'readings', column: { name: 'total', formula: 'sum(kg by hive)' } },
    { op: 'add-column', table: 'readings', column: { hiddenFrom: ['buyers'], ...hidden } },
  ])
  const fill = { op: 'fill-column', table: 'readings', column: hidden.name, formula: 'row_number() * 3' }
  if (hidden.formula === undefined) file.applyJson(fill)
  file.close()
}

const QUESTIONS = {
  'a page of rows': ['tables/readings/rows?limit=200'],
  'rows in order': ['tables/readings/rows?order=kg%20desc&limit=50'],
  'rows under a condition': ['tables/readings/rows?where=total%20%3E%201000&limit=50'],
  'a condition on what is hidden': ['tables/readings/rows?where=cost%20%3E%203'],
  'an order by what is hidden': ['tables/readings/rows?order=cost'],
  'a cell of what is hidden': ['cells/readings/7/cost/why'],
  'why of a cell': ['cells/readings/7/total/why'],
  'a table': ['tables/readings'],
  findings: ['findings'],
  history: ['history?limit=50'],
  'an export': ['query?as=csv', { rows: { table: 'readings', limit: 2_000 } }],
  'a group by what is hidden': [
    'query',
    { report: { table: 'readings', levels: [{ key: 'cost' }], tallies: [{ formula: 'count()' }] } },
  ],
  'a report': [
    'query',
    { report: { table: 'readings', levels: [{ key: 'hive' }], tallies: [{ name: 'kg', formula: 'sum(kg)' }] } },
  ],
  completion: ['language/complete', { table: 'readings', formula: 'co', offset: 2 }],
  'findings of a formula': ['language/findings', { table: 'readings', formula: 'cost + 1' }],
}

const folder = mkdtempSync(join(tmpdir(), 'mellow-timing-'))
make(join(folder, 'one.mellow'), { name: 'cost', type: 'number' })
make(join(folder, 'other.mellow'), { name: 'what_the_queens_were_bought_for', formula: "join('-', hive, text(rank(kg)), 'eur')" })
const tokens = new TokenFile(folder)
const buyer = tokens.add({ name: 'Bob', books: BOOKS, role: 'edit', groups: ['buyers'] }).token
const owner = tokens.add({ name: 'Olga', books: BOOKS, role: 'own' }).token
const server = spawn(process.execPath, [join(import.meta.dirname, 'serve.mjs'), folder, '{"rate":0,"log":"error"}'], {
  stdio: ['ignore', 'pipe', 'inherit'],
})
const url = await new Promise((resolve) => server.stdout.once('data', (text) => resolve(String(text).trim())))

async function ask(token, book, path, body, method = body === undefined ? 'GET' : 'POST') {
  const answer = await fetch(`${url}/books/${book}/${path}`, {
    method,
    headers: { authorization: `Bearer ${token}`, ...(body !== undefined && { 'content-type': 'application/json' }) },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  })
  await answer.arrayBuffer()
  return answer.status
}

const median = (list) => list.sort((a, b) => a - b)[list.length >> 1]
let worst = 0
for (const [name, [path, body]] of Object.entries(QUESTIONS)) {
  const times = { first: [[], []], second: [[], []] }
  for (let round = -20; round < rounds; round++) {
    const order = round % 2 === 0 ? [0, 1] : [1, 0]
    for (const at of order) await ask(owner, BOOKS[at], 'tables/readings/rows/3', { kg: round & 63 }, 'PATCH')
    for (const turn of ['first', 'second'])
      for (const at of order) {
        const start = performance.now()
        await ask(buyer, BOOKS[at], path, body)
        if (round >= 0) times[turn][at].push(performance.now() - start)
      }
  }
  const told = Object.entries(times).map(([turn, [one, other]]) => {
    const [a, b] = [median(one), median(other)]
    const apart = Math.max(a, b) / Math.min(a, b) - 1
    worst = Math.max(worst, apart)
    return `${turn} ${a.toFixed(2)} and ${b.toFixed(2)} ms, ${(apart * 100).toFixed(1)} % apart`
  })
  console.log(`${name}: ${told.join('; ')}`)
}
console.log(`most apart: ${(worst * 100).toFixed(1)} %`)
server.kill('SIGTERM')
await new Promise((resolve) => server.once('exit', resolve))
rmSync(folder, { recursive: true, force: true })
process.exit(worst < MOST_APART ? 0 : 1)
