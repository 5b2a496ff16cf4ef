import { connect as connectSocket } from 'node:net'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type Ask, asker } from './helpers/ask.js'
import { Following } from './helpers/feed.js'
import { Served } from './helpers/serve.js'

/** The live feed: what is told of a workbook, to whom, and what becomes of those who come again. */

let served: Served
let ada: Ask
let token: string
let buyer: string
const patch = (row: number, cells: object, table = 'harvests') =>
  ada(`tables/${table}/rows/${row}`, { method: 'PATCH', body: cells })

beforeAll(async () => {
  served = await Served.begin({ feedBytes: 100_000 })
  ada = asker(() => served.url, served.token('Ada', 'own'))
  token = served.token('Bea', 'read')
  buyer = served.token('Cid', 'read', { groups: ['buyers'] })
})
afterAll(() => served.close())

const window = (of: object): string => `?watch=${encodeURIComponent(JSON.stringify({ w: of }))}`

describe('what is told', () => {
  test('a change under its revision, findings before it, and news of windows with it', async () => {
    const feed = await Following.begin(
      served.url,
      token,
      window({ table: 'harvests', from: 1, to: 3, columns: ['hive', 'honey_kg'] }),
    )
    const [first] = await feed.wait('window')
    expect(first?.data).toMatchObject({
      window: 'w',
      count: 12,
      columns: ['hive', 'honey_kg'],
      ids: [1, 2],
      rows: [{ id: 1 }, { id: 2 }],
    })
    const { revision } = (await patch(1, { honey_kg: { misfit: 'some' } })).json
    const [change] = await feed.wait('change')
    expect(feed.told.map(({ event }) => event)).toEqual(['window', 'findings', 'change'])
    expect(feed.told[1]).toMatchObject({
      data: { revision, added: expect.arrayContaining([expect.objectContaining({ code: 'misfits' })]) },
    })
    expect(change).toMatchObject({
      id: String(revision),
      data: {
        revision,
        author: 'Ada',
        cells: { harvests: { honey_kg: [1] } },
        windows: { w: { rows: [{ id: 1, cells: { honey_kg: { misfit: 'some' } } }] } },
      },
    })
    await patch(1, { honey_kg: 0.5 })
    feed.end()
  })

  test('of some tables only, and of what is hidden nothing', async () => {
    const some = await Following.begin(served.url, token, '?tables=HIVES')
    const bound = await Following.begin(served.url, buyer)
    await patch(1, { cost: 5 }, 'hives')
    await patch(2, { taken: '2026-07-01' })
    const last = (await patch(2, { honey_kg: 2 })).json.revision
    await bound.wait('change', 2)
    expect((await some.wait('change', 2)).map(({ data }) => Object.keys(data.cells))).toEqual([['hives'], ['hives']])
    expect(JSON.stringify(bound.told)).not.toContain('cost')
    expect(bound.told.map(({ id }) => id)).toEqual([String(last - 1), String(last)])
    for (const feed of [some, bound]) feed.end()
  })

  test('who is there, and where as far as that is seen', async () => {
    const [all, bound] = [await Following.begin(served.url, token), await Following.begin(served.url, buyer)]
    const place = { table: 'hives', row: 1, column: 'cost' }
    const { json } = await ada('presence', { method: 'PUT', body: { place, draft: 'honey *' } })
    expect(json.present).toMatchObject([{ author: 'Ada', role: 'own', place, draft: 'honey *' }])
    // A draft may name anything, so it is for those alone from whom nothing is hidden.
    expect((await all.wait('presence'))[0]?.data.present).toEqual([{ ...json.present[0], draft: null }])
    expect((await bound.wait('presence'))[0]?.data.present).toMatchObject([{ author: 'Ada', place: null, draft: null }])
    await ada('presence', { method: 'PUT', body: { place: { table: 'hives', row: 1, column: 'code' }, draft: 'cost * 2' } })
    expect((await asker(() => served.url, buyer)('presence')).json.present).toMatchObject([
      { place: { column: 'code' }, draft: null },
    ])
    for (const feed of [all, bound]) feed.end()
  })

  test('that all is to be fetched anew, where what one sees is something else', async () => {
    const feed = await Following.begin(served.url, buyer, window({ table: 'hives' }))
    await ada('operations', { body: { op: 'change-column', table: 'hives', column: 'apiary', set: { hiddenFrom: ['buyers'] } } })
    await feed.wait('reset')
    await expect.poll(() => feed.told.filter(({ event }) => event === 'window').at(-1)?.data.columns).not.toContain('apiary')
    await ada('undo', { method: 'POST' })
    feed.end()
  })

  test('a window that cannot be is a problem, as one of another name is', async () => {
    const ask = asker(() => served.url, buyer)
    const [hidden, none] = await Promise.all(
      ['cost', 'coat'].map((column) => ask(`changes${window({ table: 'hives', columns: [column] })}`)),
    )
    expect(hidden).toMatchObject({ status: 422, json: { code: 'unknown-column' } })
    expect(hidden?.text.replaceAll('cost', 'coat').replace(/"request":"[^"]*"/, '')).toBe(
      none?.text.replace(/"request":"[^"]*"/, ''),
    )
    expect((await ask('changes', { headers: { 'last-event-id': 'x' } })).status).toBe(400)
  })
})

describe('coming again', () => {
  test('goes on behind the last event, without a gap and without a repeat', async () => {
    const before = await Following.begin(served.url, token)
    const first = (await patch(3, { honey_kg: 30 })).json.revision
    await before.wait('change')
    before.end()
    const rest: number[] = []
    for (const honey_kg of [31, 32, 33]) rest.push((await patch(3, { honey_kg })).json.revision)
    const again = await Following.begin(served.url, token, '', first)
    await again.wait('change', 3)
    rest.push((await patch(3, { honey_kg: 34 })).json.revision)
    expect((await again.wait('change', 4)).map(({ id }) => Number(id))).toEqual(rest)
    again.end()
  })

  test('from before what is known, or after all there is, begins anew', async () => {
    for (const last of [0, 1_000_000]) {
      const feed = await Following.begin(served.url, token, '', last)
      await feed.wait('reset')
      feed.end()
    }
  })

  test('a server that ends tells all who follow, who come again', async () => {
    const feed = await Following.begin(served.url, token)
    await served.stop()
    await expect.poll(() => feed.isEnded).toBe(true)
    await served.start({ feedBytes: 100_000 })
    const again = await Following.begin(served.url, token)
    await patch(4, { honey_kg: 4 })
    await again.wait('change')
    again.end()
  })

  test('a reader who takes nothing is told once to begin anew, and keeps no one waiting', async () => {
    const quick = await Following.begin(served.url, token)
    const { port } = new URL(served.url)
    const slow = connectSocket(Number(port), '127.0.0.1')
    slow.write(
      `GET /books/honey/changes${window({ table: 'hives' })} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer ${token}\r\n\r\n`,
    )
    await new Promise((resolve) => slow.once('readable', resolve))
    // What the sockets themselves take comes on top of what waits here.
    const note = 'x'.repeat(600_000)
    let edits = 0
    for (; edits < 50; edits++) await patch(1, { apiary: `${note}${edits}` }, 'hives')
    await quick.wait('change', edits)
    let text = ''
    slow.on('data', (data) => {
      text += data
    })
    slow.resume()
    await expect.poll(() => text.includes('event: reset'), { timeout: 10_000 }).toBe(true)
    expect(text.match(/event: reset/g)).toHaveLength(1)
    slow.destroy()
    quick.end()
  })
})
