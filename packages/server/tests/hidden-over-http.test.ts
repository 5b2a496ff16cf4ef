import { createHash } from 'node:crypto'
import type { Operation } from 'mellow-abacus'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { OPERATIONS } from '../../host/tests/helpers/homes.js'
import { type Answer, type Ask, asker } from './helpers/ask.js'
import { Following } from './helpers/feed.js'
import { Served } from './helpers/serve.js'

/**
 * Workbooks that differ only in what is hidden answer a reader without rights alike, byte for byte, whatever is asked: in the
 * name of a hidden column, its type, its formula, its note, and values that no visible result depends on.
 */

/** The workbook of the co-operative with something else in what is hidden from buyers. */
function withHidden(replaced: Readonly<Record<string, object>>, values: readonly unknown[], name = 'cost'): readonly Operation[] {
  const text = JSON.stringify(OPERATIONS).replaceAll('"cost"', JSON.stringify(name)).replace('1000, cost,', `1000, ${name},`)
  const operations = JSON.parse(text) as (Operation & { columns?: { name: string }[]; rows?: Record<string, unknown>[] })[]
  const [hives, , rows] = operations
  for (const column of hives?.columns ?? []) Object.assign(column, replaced[column.name === name ? 'cost' : column.name])
  for (const [at, row] of (rows?.rows ?? []).entries()) row[name] = values[at]
  return operations as readonly Operation[]
}

const BOOKS = [
  withHidden({}, [4, 5, 7]),
  withHidden({ cost: { note: 'what the queen was bought for' } }, [400, 500, 700]),
  withHidden({ cost: { unit: 'kg' } }, [4, 5, 7], 'queen_price'),
] as const

const served: Served[] = []
const buyers: Ask[] = []
const owners: Ask[] = []
const tokens: string[] = []

beforeAll(async () => {
  for (const operations of BOOKS) {
    const one = await Served.begin({}, operations)
    const token = one.token('Bob', 'edit', { groups: ['Buyers'] })
    served.push(one)
    tokens.push(token)
    buyers.push(asker(() => one.url, token))
    owners.push(asker(() => one.url, one.token('Olga', 'own')))
  }
})
afterAll(() => Promise.all(served.map((one) => one.close())))

/** What of an answer may not differ. */
function seen({ status, headers, text }: Answer): unknown {
  const kept = [...headers].filter(([name]) => !['date', 'x-request-id'].includes(name))
  const said = text.replace(/"request":"[^"]*"/, '').replace(/"at":"[^"]*"/g, '')
  return [status, Object.fromEntries(kept), said]
}

/** Formulas, with every way to ask for a name that there is not. */
const NAMES = ['cost', 'queen_price', 'coat', 'costs', 'Cost', '`cost`', 'queen_prices', 'margin', 'honey']
const QUESTIONS: readonly (readonly [path: string, body?: object | undefined, method?: string])[] = [
  [''],
  ['tables'],
  ['tables/hives'],
  ['tables/hives/rows'],
  ['tables/hives/rows/1'],
  ['findings'],
  ['history?limit=100'],
  ['reports/by%20hive'],
  ['charts/kg'],
  ['columns/hives/margin/explanation'],
  ['columns/hives/margin/trace'],
  ['cells/hives/1/margin/why'],
  ['presence'],
  ...NAMES.flatMap((name): (readonly [string, object?, string?])[] => [
    [`tables/hives/rows?where=${encodeURIComponent(`${name} > 4`)}`],
    [`tables/hives/rows?order=${encodeURIComponent(name)}`],
    [`tables/hives/rows?columns=${encodeURIComponent(name)}`],
    [`cells/hives/1/${encodeURIComponent(name)}/why`],
    [`columns/hives/${encodeURIComponent(name)}/explanation`],
    [`columns/hives/${encodeURIComponent(name)}/trace`],
    ['tables/hives/rows/1', { [name]: 3 }, 'PATCH'],
    ['tables/hives/rows', { code: 'H9', [name]: 3 }],
    ['operations?preview', { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: name, value: 3 }] }],
    ['operations', { op: 'fill-column', table: 'hives', column: 'apiary', formula: `text(${name})` }],
    ['query', { rows: { table: 'harvests', where: `hive.${name} > 3`, order: 'honey_kg' } }],
    ['query', { report: { table: 'hives', levels: [{ key: name }], tallies: [{ name: 't', formula: `sum(${name})` }] } }],
    ['query', { chart: { table: 'hives', x: 'code', series: [{ formula: name, kind: 'bar' }] } }],
    ['query', { fit: { table: 'hives', x: name, y: 'honey' } }],
    ['query', { explain: { table: 'hives', formula: `${name} * 2` } }],
    ['query', { trace: `hives.${name}` }],
    ['query?as=csv', { rows: { table: 'hives', columns: [name] } }],
    ['language/findings', { table: 'hives', formula: `${name} + 1` }],
    ['language/complete', { table: 'hives', formula: name, offset: name.length }],
    ['language/hover', { table: 'hives', formula: name, offset: 1 }],
    ['language/rename', { table: 'hives', formula: name, offset: 1, to: 'x' }],
    ['language/tokens', { table: 'hives', formula: name }],
    ['language/preview', { table: 'hives', formula: `sum(${name})`, name: 'x' }],
  ]),
  ['undo', undefined, 'POST'],
  ['redo', undefined, 'POST'],
  ['query?as=arrow', { rows: { table: 'hives' } }],
  ['query?as=html', { report: 'by hive' }],
]

test('every question is answered alike, in every order of first and later ones', async () => {
  for (const [path, body, method] of QUESTIONS) {
    const answers = await Promise.all(
      buyers.map((ask) => ask(path, { ...(body !== undefined && { body }), ...(method !== undefined && { method }) })),
    )
    const [first, ...others] = answers.map(seen)
    for (const other of others) expect([path, body, other]).toEqual([path, body, first])
    const allowed = /cost|queen_price/.test(JSON.stringify([path, body]))
    if (!allowed) expect(JSON.stringify(first)).not.toMatch(/cost|queen/)
  }
}, 120_000)

test('edits of what is hidden are told of to no one who does not see it, neither as events nor as tags', async () => {
  const feeds = await Promise.all(served.map((one, at) => Following.begin(one.url, tokens[at] as string)))
  const tags = async (): Promise<unknown[]> =>
    Promise.all(buyers.map(async (ask) => (await ask('tables/hives/rows/2')).headers.get('etag')))
  const before = await tags()
  const [, , other] = owners
  for (const ask of owners)
    await ask('tables/hives/rows/2', { method: 'PATCH', body: { [ask === other ? 'queen_price' : 'cost']: 77 } })
  for (const ask of owners) await ask('tables/harvests/rows/2', { method: 'PATCH', body: { honey_kg: 4 } })
  const told = await Promise.all(feeds.map((feed) => feed.wait('change')))
  const digests = told.map((events) =>
    createHash('sha256')
      .update(JSON.stringify(events.map(({ data }) => ({ ...data, at: '' }))))
      .digest('hex'),
  )
  expect(new Set(digests).size).toBe(1)
  expect(told.map((events) => events.length)).toEqual([1, 1, 1])
  expect(before).toHaveLength(3)
  expect(new Set(before).size).toBe(1)
  for (const feed of feeds) feed.end()
})
