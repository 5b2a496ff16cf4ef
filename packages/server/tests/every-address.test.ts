import { FEED_EVENTS, PROBLEM, ROUTES, type Route } from '@mellow-abacus/session/wire'
import { Ajv2020 } from 'ajv/dist/2020.js'
import fc from 'fast-check'
import * as v from 'valibot'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type Ask, asker } from './helpers/ask.js'
import { Following } from './helpers/feed.js'
import { Served } from './helpers/serve.js'

/** Every address under the document of the interface: with what it takes, and with what it does not. */

const RUNS = Number(process.env.RUNS ?? 400)
let served: Served
let ask: Ask

beforeAll(async () => {
  served = await Served.begin()
  ask = asker(() => served.url, served.token('Ada', 'own', { books: ['*'] }))
})
afterAll(() => served.close())

/** Holds an answer to the schema of its address. */
function hold(name: keyof typeof ROUTES, status: number, json: unknown): void {
  if (status === 304 || status === 204 || json === undefined) return
  const answers = ROUTES[name].answers as Readonly<Record<number, v.GenericSchema | null>>
  const schema = status >= 400 ? PROBLEM : answers[status]
  const read = v.safeParse(schema as v.GenericSchema, json)
  expect([
    name,
    status,
    read.success ? [] : read.issues.slice(0, 2).map((one) => [v.getDotPath(one), one.message, json]),
  ]).toEqual([name, status, []])
}

/** What each address takes, with the demo workbook. */
const VALID: readonly (readonly [name: keyof typeof ROUTES, path: string, body?: object])[] = [
  ['books', '/books'],
  ['makeBook', '/books', { name: 'fresh' }],
  ['book', ''],
  ['tables', 'tables'],
  ['table', 'tables/harvests'],
  ['rows', 'tables/harvests/rows?where=honey_kg%20%3E%202&order=taken&limit=3'],
  ['addRows', 'tables/harvests/rows', { hive: 'H1', honey_kg: 3 }],
  ['addRows', 'tables/harvests/rows', [{ hive: 'H1' }, {}]],
  ['addRows', 'tables/harvests/rows?each', [{ hive: 'H1' }, { nectar: 1 }]],
  ['row', 'tables/harvests/rows/1'],
  ['setRow', 'tables/harvests/rows/1', { honey_kg: { misfit: 'x' } }],
  ['setRow', 'tables/harvests/rows/1?expects=1', { honey_kg: 2 }],
  ['removeRow', 'tables/harvests/rows/12'],
  ['operations', 'operations', { op: 'set-value', name: 'price', value: 8 }],
  ['operations', 'operations?preview', { op: 'set-value', name: 'price', value: 8 }],
  ['undo', 'undo'],
  ['redo', 'redo'],
  ['findings', 'findings'],
  ['why', 'cells/hives/1/margin/why'],
  ['explanation', 'columns/hives/margin/explanation'],
  ['trace', 'columns/hives/honey/trace'],
  ['report', 'reports/by%20hive'],
  ['chart', 'charts/kg'],
  ['query', 'query', { rows: { table: 'harvests', limit: 2 } }],
  ['query', 'query', { report: { table: 'harvests', levels: [{ key: 'hive' }] } }],
  ['query', 'query', { chart: 'kg' }],
  ['query', 'query', { fit: { table: 'harvests', x: 'honey_kg', y: '2 * honey_kg + 1' } }],
  ['query', 'query', { value: 'price' }],
  ['query', 'query', { explain: { table: 'harvests', formula: 'honey_kg * 2' } }],
  ['query', 'query', { why: { address: 'hives.margin', row: 1 } }],
  ['query', 'query', { trace: 'hives.margin' }],
  ...(['findings', 'complete', 'hover', 'signature', 'format', 'rename', 'tokens', 'preview'] as const).map(
    (service) =>
      [
        'language',
        `language/${service}`,
        { table: 'harvests', formula: 'honey_kg * 2', offset: 2, to: 'honey', name: 'n' },
      ] as const,
  ),
  ['history', 'history?limit=2'],
  ['presence', 'presence'],
  ['setPresence', 'presence', { place: { table: 'hives', row: 1 }, draft: 'x' }],
  ['removeBook', '/books/fresh'],
]

describe('what each takes', () => {
  test.each(VALID.map((one) => [one[0], one[1], one] as const))('%s %s', async (name, path, [, , body]) => {
    const { method }: Route = ROUTES[name]
    const { status, json } = await ask(path, { method, ...(body !== undefined && { body }) })
    expect([status, status < 400 ? undefined : json]).toEqual([expect.toSatisfy((one: number) => one < 400), undefined])
    hold(name, status, json)
  })

  test('all of them are there', () => {
    const tried = new Set<string>(VALID.map(([name]) => name))
    expect(Object.keys(ROUTES).filter((name) => !tried.has(name))).toEqual(['enter', 'changes', 'file'])
  })

  test('a row fits the JSON Schema of its table', async () => {
    for (const table of ['hives', 'harvests']) {
      const { schema } = (await ask(`tables/${table}`)).json
      const fits = new Ajv2020({ strict: false, formats: { date: true } }).compile(schema)
      for (const { cells } of (await ask(`tables/${table}/rows`)).json.rows)
        expect([fits(cells), fits.errors]).toEqual([true, null])
    }
  })

  test('the events of the feed fit theirs', async () => {
    const watch = encodeURIComponent(JSON.stringify({ w: { table: 'harvests', where: 'honey_kg > 1' } }))
    const feed = await Following.begin(served.url, served.token('Fay', 'read'), `?watch=${watch}`)
    await ask('operations', { body: [{ op: 'insert-rows', table: 'harvests', rows: [{ honey_kg: 9, hive: 'no such' }] }] })
    await ask('operations', { body: { op: 'add-column', table: 'hives', column: { name: 'age', type: 'integer' } } })
    await ask('presence', { method: 'PUT', body: {} })
    await feed.wait('presence')
    expect(new Set(feed.told.map(({ event }) => event)).size).toBeGreaterThan(2)
    for (const { event, data } of feed.told) {
      const read = v.safeParse(FEED_EVENTS[event as 'change'] as v.GenericSchema, data)
      expect([event, read.issues?.map((one) => [v.getDotPath(one), one.message])]).toEqual([event, undefined])
    }
    feed.end()
  })
})

test('the document names every address, and is sound', async () => {
  const { json } = await ask('/openapi.json')
  expect(json.openapi).toBe('3.1.0')
  const named = Object.entries(json.paths as Record<string, object>).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  )
  expect(named.sort()).toEqual(
    Object.values(ROUTES)
      .map(({ method, path }) => `${method} ${path}`)
      .sort(),
  )
  expect((await fetch(`${served.url}/docs/`)).status).toBe(200)
})

/** Something in place of a part of a request. */
const junk = fc.oneof(
  fc.constantFrom(
    '',
    '..',
    '%00',
    '\u0000',
    '-1',
    '1e999',
    '9'.repeat(400),
    "'; drop table x --",
    '__proto__',
    'constructor',
    'é\u0301',
    '*',
    '{"a":',
  ),
  fc.string({ unit: 'binary', maxLength: 30 }),
)
const value = fc.oneof(
  fc.jsonValue({ maxDepth: 3 }),
  junk,
  fc.constantFrom(null, [], {}, [[[]]], Number.MAX_SAFE_INTEGER, -0, 'x'.repeat(100_000), { __proto__: 1 }),
)

/** A body with one part of it replaced, taken out, or put in. */
function mutatedBody(body: unknown, at: number, by: unknown, name: string): unknown {
  if (typeof body !== 'object' || body === null) return by
  const keys = Object.keys(body)
  const key = keys[at % (keys.length + 1)]
  if (key === undefined) return Array.isArray(body) ? [...body, by] : { ...body, [name]: by }
  const inner = (body as Record<string, unknown>)[key]
  const next = at % 3 === 0 ? mutatedBody(inner, Math.floor(at / 3), by, name) : by
  return Array.isArray(body) ? body.map((one, index) => (String(index) === key ? next : one)) : { ...body, [key]: next }
}

test('what an address does not take is a problem, never a fault of the server, and changes nothing it says it did not', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...VALID.filter(([name]) => name !== 'removeBook' && name !== 'makeBook')),
      fc.record({ part: fc.constantFrom('path', 'query', 'body', 'header', 'method'), at: fc.nat(200), by: value, junk }),
      async ([name, path, body], { part, at, by, junk: text }) => {
        const { method }: Route = ROUTES[name]
        const [address = '', search = ''] = path.split('?')
        const parts = address.split('/')
        if (part === 'path' && parts.length > 0) parts[at % parts.length] = encodeURIComponent(text)
        const query =
          part === 'query'
            ? new URLSearchParams([
                [['where', 'order', 'limit', 'after', 'columns', 'expects', 'each', text][at % 8] as string, String(text)],
              ]).toString()
            : search
        const header = ['if-match', 'if-none-match', 'accept', 'prefer', 'idempotency-key', 'traceparent'][at % 6] as string
        const given = part === 'body' && body !== undefined ? mutatedBody(body, at, by, text) : body
        const { status, json } = await ask(`${parts.join('/')}${query === '' ? '' : `?${query}`}`, {
          method: part === 'method' ? (['PUT', 'DELETE', 'PATCH', 'POST'][at % 4] as string) : method,
          ...(given !== undefined && { body: part === 'body' && at % 7 === 0 ? `${JSON.stringify(given).slice(0, at)}` : given }),
          ...(part === 'header' && { headers: { [header]: text.replace(/[^\x20-\x7e]/g, '?') } }),
        })
        expect([status < 500, status, json]).toEqual([true, status, json])
        if (status >= 400 && json !== undefined)
          expect(v.safeParse(PROBLEM, json).issues?.map((one) => one.message)).toBeUndefined()
        if (part === 'body' && status < 400) hold(name, status, json)
      },
    ),
    { numRuns: RUNS },
  )
  expect((await ask('/health/live')).json).toEqual({ status: 'live' })
}, 3_600_000)
