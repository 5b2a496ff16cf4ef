import { tableFromIPC } from 'apache-arrow'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type Ask, asker } from './helpers/ask.js'
import { Served } from './helpers/serve.js'

/** Rows over HTTP, as programs read and write them. */

let served: Served
let ada: Ask
let enter: Ask

beforeAll(async () => {
  served = await Served.begin()
  ada = asker(() => served.url, served.token('Ada', 'define'))
  enter = asker(() => served.url, served.token('Eva', 'enter', { groups: ['buyers'] }))
})
afterAll(() => served.close())

describe('reading', () => {
  test('a page of rows, and where the next one begins', async () => {
    const first = await ada('tables/harvests/rows?limit=2&order=taken%20desc&columns=taken,share_of_hive')
    expect(first.json).toMatchObject({
      revision: 1,
      matched: 12,
      rows: [
        { id: 12, cells: { taken: '2026-06-12', share_of_hive: 11.5 / 28 } },
        { id: 11, cells: { taken: '2026-06-11' } },
      ],
    })
    const next = await ada(`tables/harvests/rows?limit=2&order=taken%20desc&after=${first.json.next}`)
    expect(next.json.rows.map(({ id }: { id: number }) => id)).toEqual([10, 9])
    expect((await ada('tables/harvests/rows?where=honey_kg%20%3E%2010')).json.next).toBeNull()
  })

  test.each([
    ['text/csv', (text: string) => text.split('\n')[0], 'taken,honey_kg'],
    ['application/x-ndjson', (text: string) => text.split('\n')[0], '{"taken":"2026-06-01","honey_kg":0.5}'],
    ['text/csv;q=0.5, application/json', (text: string) => text.slice(0, 12), '{"revision":'],
    ['*/*', (text: string) => text.slice(0, 12), '{"revision":'],
  ])('as %s', async (accept, part, expected) => {
    const { status, text } = await ada('tables/harvests/rows?limit=2&columns=taken,honey_kg', { headers: { accept } })
    expect([status, part(text)]).toEqual([200, expected])
  })

  test('as an Arrow stream', async () => {
    const response = await fetch(`${served.url}/books/honey/tables/harvests/rows?columns=honey_kg`, {
      headers: {
        authorization: `Bearer ${served.token('Ann', 'read')}`,
        accept: 'application/vnd.apache.arrow.stream',
      },
    })
    const read = tableFromIPC(new Uint8Array(await response.arrayBuffer()))
    expect([read.numRows, read.schema.fields.map(({ name }) => name)]).toEqual([12, ['honey_kg']])
  })

  test('a format that there is not', async () => {
    expect((await ada('tables/harvests/rows', { headers: { accept: 'image/png' } })).json).toMatchObject({
      status: 406,
      code: 'not-acceptable',
    })
  })

  test('a row is asked for again only when it is another, hidden cells aside', async () => {
    const row = await enter('tables/hives/rows/1')
    const tag = String(row.headers.get('etag'))
    expect(tag).toMatch(/^"[\w-]{27}"$/)
    const again = (): Promise<number> =>
      enter('tables/hives/rows/1', { headers: { 'if-none-match': `"x", W/${tag}` } }).then(({ status }) => status)
    expect(await again()).toBe(304)
    await ada('tables/hives/rows/1', { method: 'PATCH', body: { cost: 99 } })
    expect(await again()).toBe(304)
    await ada('tables/harvests/rows/1', { method: 'PATCH', body: { honey_kg: 1 } })
    expect(await again()).toBe(200)
  })
})

describe('writing', () => {
  test('one row, with what is calculated of it and where it is', async () => {
    const { status, headers, json } = await enter('tables/harvests/rows', { body: { hive: 'H1', honey_kg: 4 } })
    expect(status).toBe(201)
    expect(headers.get('location')).toBe(`/books/honey/tables/harvests/rows/${json.id}`)
    expect(json.cells).toMatchObject({ hive: 'H1', honey_kg: 4, taken: null })
    expect(json.cells.share_of_hive).toBeGreaterThan(0)
    expect(json.recalculated).toContainEqual({ table: 'hives', column: 'honey', rows: 1 })
    expect(json.findings).toEqual({ added: expect.any(Array), removed: expect.any(Array) })
    expect((await enter(String(headers.get('location')))).headers.get('etag')).toBe(headers.get('etag'))
  })

  test.each([
    ['application/json', [{ hive: 'H2' }, { hive: 'H3', honey_kg: 2 }]],
    ['application/x-ndjson', '{"hive":"H2"}\n{"hive":"H3","honey_kg":2}\n'],
    ['text/csv', 'hive,honey_kg\nH2,\nH3,2\n'],
  ])('several rows as %s', async (type, body) => {
    const { status, json } = await enter('tables/harvests/rows', { body, type })
    expect(status).toBe(200)
    expect(json.rows).toMatchObject([{ cells: { hive: 'H2', honey_kg: null } }, { cells: { hive: 'H3', honey_kg: 2 } }])
    expect(json.inserted).toEqual([{ table: 'harvests', ids: json.rows.map(({ id }: { id: number }) => id) }])
  })

  test('all rows or none, unless each is to be tried', async () => {
    const body = [{ hive: 'H1' }, { hive: 'H1', nectar: 3 }, { hive: 'H2' }]
    const before = (await ada('tables')).json.tables[1].rows
    expect((await enter('tables/harvests/rows', { body })).json).toMatchObject({ status: 422, code: 'unknown-column' })
    expect((await ada('tables')).json.tables[1].rows).toBe(before)
    const { json } = await enter('tables/harvests/rows?each', { body })
    expect(json.refused).toEqual([{ row: 2, code: 'unknown-column', message: expect.stringContaining('nectar') }])
    expect(json.rows.map(({ cells }: { cells: { hive: string } }) => cells.hive)).toEqual(['H1', 'H2'])
    expect((await ada('tables')).json.tables[1].rows).toBe(before + 2)
    expect((await enter('tables/harvests/rows?each', { body: [{ nectar: 1 }] })).json).toMatchObject({ status: 422 })
  })

  test('without rows in the answer, where that is preferred', async () => {
    const { headers, json } = await enter('tables/harvests/rows/2', {
      method: 'PATCH',
      body: { honey_kg: 3 },
      headers: { prefer: 'respond-async, return=minimal' },
    })
    expect(headers.get('preference-applied')).toBe('return=minimal')
    expect(json).not.toHaveProperty('cells')
    expect(json).toMatchObject({ id: 2, changed: expect.arrayContaining([{ table: 'harvests', column: 'honey_kg', rows: 1 }]) })
  })

  test('texts that do not fit go both ways', async () => {
    const { json } = await enter('tables/harvests/rows/3', { method: 'PATCH', body: { honey_kg: { misfit: 'about 3' } } })
    expect(json.cells).toMatchObject({ honey_kg: { misfit: 'about 3' }, share_of_hive: { error: 'misfit' } })
    await enter('tables/harvests/rows/3', { method: 'PATCH', body: { honey_kg: 3 } })
  })

  test('only a row that is as it was seen, else both are told', async () => {
    const tag = String((await enter('tables/harvests/rows/4')).headers.get('etag'))
    const patch = (honey_kg: number, condition: string) =>
      enter('tables/harvests/rows/4', { method: 'PATCH', body: { honey_kg }, headers: { 'if-match': condition } })
    const first = await patch(7, tag)
    expect(first.status).toBe(200)
    const second = await patch(8, tag)
    expect(second.json).toMatchObject({ status: 412, code: 'row-changed', row: { now: { honey_kg: 7 }, given: { honey_kg: 8 } } })
    expect(second.headers.get('etag')).toBe(first.headers.get('etag'))
    expect((await patch(9, '*')).status).toBe(200)
    const gone = await enter('tables/harvests/rows/999', { method: 'DELETE', headers: { 'if-match': '*' } })
    expect(gone.json).toMatchObject({ status: 412, row: { now: null } })
  })

  test('of many at once who have seen the same, one', async () => {
    const tag = String((await enter('tables/harvests/rows/5')).headers.get('etag'))
    const all = await Promise.all(
      Array.from({ length: 20 }, (_, at) =>
        enter('tables/harvests/rows/5', { method: 'PATCH', body: { honey_kg: 100 + at }, headers: { 'if-match': tag } }),
      ),
    )
    expect(all.map(({ status }) => status).sort()).toEqual([200, ...Array(19).fill(412)])
  })

  test('edits of the same cell by two are told to both, and the later one stands', async () => {
    const { revision } = (await ada('tables/harvests/rows/6')).json
    await enter(`tables/harvests/rows/6?expects=${revision}`, { method: 'PATCH', body: { honey_kg: 50 } })
    const later = await ada(`tables/harvests/rows/6?expects=${revision}`, { method: 'PATCH', body: { honey_kg: 60 } })
    expect(later.json.met).toEqual([
      {
        table: 'harvests',
        row: 6,
        column: 'honey_kg',
        theirs: 50,
        yours: 60,
        author: 'Eva',
        at: expect.any(String),
        revision: revision + 1,
      },
    ])
    expect(later.json.cells.honey_kg).toBe(60)
    const other = await ada(`tables/harvests/rows/6?expects=${revision}`, { method: 'PATCH', body: { hive: 'H2' } })
    expect(other.json.met).toEqual([])
  })

  test('a row is removed', async () => {
    const { id } = (await enter('tables/harvests/rows', { body: { hive: 'H1' } })).json
    const { json } = await enter(`tables/harvests/rows/${id}`, { method: 'DELETE' })
    expect(json.removed).toEqual([{ table: 'harvests', ids: [id] }])
    expect((await enter(`tables/harvests/rows/${id}`)).json).toMatchObject({ status: 404, code: 'unknown-row' })
  })
})

describe('keys', () => {
  const put = (ask: Ask, key: string, body: unknown = { hive: 'H1', honey_kg: 1 }) =>
    ask('tables/harvests/rows', { body, headers: { 'idempotency-key': key } })

  test('the same is done once, and answered alike, also after a restart', async () => {
    const first = await put(enter, 'a')
    expect(await put(enter, 'a').then(({ status, text }) => [status, text])).toEqual([201, first.text])
    await served.stop()
    await served.start()
    expect((await put(enter, 'a')).text).toBe(first.text)
    // Of someone else, at another address, or under another key it is something else.
    expect((await put(ada, 'a')).json.id).toBe(first.json.id + 1)
    expect((await put(enter, 'b')).json.id).toBe(first.json.id + 2)
  })

  test('what was done on a condition is answered alike, though the row is another since', async () => {
    const tag = String((await enter('tables/harvests/rows/7')).headers.get('etag'))
    const patch = (key: string) =>
      enter('tables/harvests/rows/7', {
        method: 'PATCH',
        body: { honey_kg: 70 },
        headers: { 'if-match': tag, 'idempotency-key': key },
      })
    const first = await patch('once')
    expect(first.status).toBe(200)
    expect(await patch('once').then(({ status, text }) => [status, text])).toEqual([200, first.text])
    expect((await patch('twice')).json).toMatchObject({ status: 412, code: 'row-changed' })
  })

  test('something else under the same key is refused', async () => {
    await put(enter, 'c')
    expect((await put(enter, 'c', { hive: 'H2' })).json).toMatchObject({ status: 422, code: 'key-reused' })
  })

  test('two at once are done once', async () => {
    const both = await Promise.all([put(enter, 'd'), put(enter, 'd'), put(enter, 'd')])
    const done = both.filter(({ status }) => status === 201)
    expect(done.length).toBeGreaterThanOrEqual(1)
    expect(new Set(done.map(({ json }) => json.id)).size).toBe(1)
    for (const { status, json } of both) if (status !== 201) expect(json).toMatchObject({ status: 409, code: 'still-running' })
  })

  test('what was refused may be asked for again', async () => {
    expect((await put(enter, 'e', { nectar: 1 })).status).toBe(422)
    expect((await put(enter, 'e')).status).toBe(201)
  })

  test('after a change of what the reader may see it is not answered', async () => {
    await put(enter, 'f')
    await ada('operations', {
      body: { op: 'change-column', table: 'harvests', column: 'taken', set: { hiddenFrom: ['buyers'] } },
    })
    const olga = asker(() => served.url, served.token('Olga', 'own'))
    await olga('operations', {
      body: { op: 'change-column', table: 'harvests', column: 'taken', set: { hiddenFrom: ['buyers'] } },
    })
    expect((await put(enter, 'f')).json).toMatchObject({ status: 409, code: 'view-changed' })
    await olga('undo', { method: 'POST' })
    expect((await put(enter, 'f')).status).toBe(201)
  })
})
