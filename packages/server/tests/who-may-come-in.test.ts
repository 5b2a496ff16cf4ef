import { mkdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import { type AddressInfo, connect as connectSocket } from 'node:net'
import { join } from 'node:path'
import { exportJWK, generateKeyPair, SignJWT } from 'jose'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { ServerOptionsFault, startServer } from '../src/index.js'
import { type Ask, asker } from './helpers/ask.js'
import { Served } from './helpers/serve.js'

/** Who may come in, and what becomes of those who may not. */

let served: Served
beforeAll(async () => {
  served = await Served.begin()
})
afterAll(() => served.close())

const as = (...given: Parameters<Served['token']>): Ask => asker(() => served.url, served.token(...given))

describe('tokens', () => {
  test.each([undefined, 'x', 'Bearer', `${'a'.repeat(43)}`])('%s is none', async (token) => {
    const { status, headers, json } = await asker(() => served.url, token)('/books')
    expect([status, headers.get('www-authenticate'), json.code]).toEqual([401, 'Bearer', 'no-token'])
  })

  test('is kept as a hash, in a file of its owner alone', () => {
    const token = served.token('Hal', 'read')
    const kept = readFileSync(served.tokens.path, 'utf8')
    expect(kept).not.toContain(token)
    expect(kept).toMatch(/"hash": "[0-9a-f]{64}"/)
  })

  test('one that is over is not good any more', async () => {
    const { token } = served.tokens.add({ name: 'Old', books: ['honey'], role: 'read', until: '2020-01-01' })
    expect((await asker(() => served.url, token)('/books')).status).toBe(401)
  })

  test('one that is withdrawn is not good any more, and its live feed ends within a second', async () => {
    const token = served.token('Wim', 'read')
    const feed = await fetch(`${served.url}/books/honey/changes`, { headers: { authorization: `Bearer ${token}` } })
    const reader = (feed.body as ReadableStream<Uint8Array>).getReader()
    await reader.read()
    served.tokens.withdraw('Wim')
    const at = performance.now()
    expect((await asker(() => served.url, token)('/books')).status).toBe(401)
    for (;;) if ((await reader.read()).done) break
    expect(performance.now() - at).toBeLessThan(2_000)
  })

  test('is for its workbooks alone: others are answered as those that there are not', async () => {
    served.add('wax', [])
    const ask = as('Ira', 'own')
    expect((await ask('/books')).json).toEqual({ books: [{ name: 'honey', role: 'own' }] })
    const answers = await Promise.all(
      ['/books/wax', '/books/mead', '/books/..%2Fhoney', '/books/honey.mellow'].map((path) => ask(path)),
    )
    const [first] = answers
    for (const { status, json } of answers)
      expect([status, { ...json, request: '' }]).toEqual([404, { ...first?.json, request: '' }])
  })
})

describe('roles', () => {
  const CALLS: readonly (readonly [least: string, path: string, method: string, body?: unknown])[] = [
    ['read', 'tables/harvests/rows?limit=1', 'GET'],
    ['read', 'history', 'GET'],
    ['enter', 'tables/harvests/rows/1', 'PATCH', { honey_kg: 2 }],
    ['edit', 'operations', 'POST', { op: 'fill-column', table: 'harvests', column: 'taken', formula: 'taken' }],
    ['define', 'operations', 'POST', { op: 'set-value', name: 'price', value: 9 }],
    ['own', 'operations', 'POST', { op: 'change-column', table: 'hives', column: 'apiary', set: { hiddenFrom: [] } }],
    ['own', 'file', 'GET'],
  ]
  const ROLES = ['read', 'enter', 'edit', 'define', 'own'] as const

  test.each(ROLES)('%s does what it may, and nothing above it', async (role) => {
    const ask = as(`a ${role}`, role)
    for (const [least, path, method, body] of CALLS) {
      const { status, json } = await ask(path, { method, ...(body !== undefined && { body }) })
      const may = ROLES.indexOf(role) >= ROLES.indexOf(least as 'read')
      expect([path, status, may ? undefined : json?.code]).toEqual([path, may ? 200 : 403, may ? undefined : 'needs-role'])
    }
  })

  test('author, time and ids are of the server, whatever is sent', async () => {
    const ask = as('Mo', 'edit')
    for (const extra of [{ author: 'Olga' }, { at: '2020-01-01' }, { id: 77 }]) {
      const { status } = await ask('operations', { body: { op: 'insert-rows', table: 'harvests', rows: [{}], ...extra } })
      expect(status).toBe(400)
    }
    expect((await ask('operations', { body: { op: 'insert-rows', table: 'harvests', rows: [{}], ids: [99] } })).status).toBe(400)
    const { json } = await ask('operations', { body: { op: 'insert-rows', table: 'harvests', rows: [{}] } })
    expect(json.author).toBe('Mo')
  })

  test('workbooks are made, put in, copied and removed by owners of all of them', async () => {
    const all = as('Oda', 'own', { books: ['*'] })
    const one = as('Obi', 'own')
    expect((await one('/books', { body: { name: 'mead' } })).status).toBe(403)
    expect((await all('/books', { body: { name: '../mead' } })).json).toMatchObject({ status: 400, code: 'bad-name' })
    expect((await all('/books', { body: { name: 'mead' } })).json).toMatchObject({ name: 'mead', revision: 0 })
    expect((await all('/books', { body: { name: 'mead' } })).json).toMatchObject({ status: 409, code: 'exists' })
    const token = served.token('Ola', 'own', { books: ['*'] })
    const authorization = `Bearer ${token}`
    const copy = await (await fetch(`${served.url}/books/honey/file`, { headers: { authorization } })).arrayBuffer()
    const put = async (name: string, bytes: ArrayBuffer): Promise<number> => {
      const headers = { authorization, 'content-type': 'application/octet-stream' }
      return (await fetch(`${served.url}/books?name=${name}`, { method: 'POST', headers, body: bytes })).status
    }
    expect(await put('copy', copy)).toBe(201)
    expect((await all('/books/copy/tables')).json.tables.length).toBe((await all('/books/honey/tables')).json.tables.length)
    expect(await put('copy', copy)).toBe(409)
    expect(await put('noise', new TextEncoder().encode('no workbook'.repeat(100)).buffer as ArrayBuffer)).toBe(422)
    expect((await all('/books/copy', { method: 'DELETE' })).status).toBe(204)
    expect((await all('/books/copy')).status).toBe(404)
    expect((await all('/books')).json.books.map(({ name }: { name: string }) => name)).not.toContain('noise')
  })

  test('figures of the server are for its operator, and name no workbook', async () => {
    expect((await as('Max', 'own', { books: ['*'] })('/metrics')).status).toBe(403)
    const { text } = await as('Opa', 'read', { books: [], operator: true })('/metrics')
    expect(text).toContain('mellow_requests_total{method="GET",route="/books/:book"')
    expect(text).not.toMatch(/honey|harvests/)
  })

  test('every change and every refusal is written down, without values', async () => {
    const ask = as('Ava', 'enter')
    await ask('tables/harvests/rows/1?expects=1', { method: 'PATCH', body: { honey_kg: 123.25 } })
    await ask('operations', { body: { op: 'set-value', name: 'price', value: 1 } })
    const lines = (): { who: string; what: string; status: number }[] =>
      readFileSync(join(served.folder, 'audit.ndjson'), 'utf8')
        .trim()
        .split('\n')
        .map((line) => JSON.parse(line))
    await expect.poll(() => lines().filter(({ who }) => who === 'Ava').length).toBe(2)
    expect(lines().filter(({ who }) => who === 'Ava')).toMatchObject([
      {
        what: 'PATCH /books/:book/tables/:table/rows/:row',
        book: 'honey',
        status: 200,
        revision: expect.any(Number),
        from: '127.0.0.1',
      },
      { what: 'POST /books/:book/operations', status: 403, code: 'needs-role', revision: null },
    ])
    expect(readFileSync(join(served.folder, 'audit.ndjson'), 'utf8')).not.toContain('123.25')
  })
})

describe('an issuer', () => {
  let issuer: Server
  let url: string
  let organisation: Served
  let sign: (
    claims: Record<string, unknown>,
    more?: { alg?: string; key?: 'own' | 'other'; audience?: string; expires?: string },
  ) => Promise<string>

  beforeAll(async () => {
    const [own, other] = await Promise.all([generateKeyPair('RS256'), generateKeyPair('RS256')])
    const jwk = { ...(await exportJWK(own.publicKey)), kid: 'k1', alg: 'RS256' }
    issuer = createServer((request, response) => {
      response.setHeader('content-type', 'application/json')
      response.end(JSON.stringify(request.url === '/keys' ? { keys: [jwk] } : { issuer: url, jwks_uri: `${url}/keys` }))
    }).listen(0, '127.0.0.1')
    await new Promise((resolve) => issuer.once('listening', resolve))
    url = `http://127.0.0.1:${(issuer.address() as AddressInfo).port}`
    sign = (claims, { alg = 'RS256', key = 'own', audience = 'honey', expires = '5m' } = {}) =>
      new SignJWT({ sub: 'u1', name: 'Gus', roles: ['honey:enter'], ...claims })
        .setProtectedHeader({ alg, kid: 'k1' })
        .setIssuer(url)
        .setAudience(audience)
        .setExpirationTime(expires)
        .sign(
          alg === 'HS256'
            ? new TextEncoder().encode('a shared secret of sufficient length')
            : (key === 'own' ? own : other).privateKey,
        )
    organisation = await Served.begin({ issuer: url, audience: 'honey' })
  })
  afterAll(async () => {
    await organisation.close()
    issuer.close()
  })

  test('its tokens come in with the roles and groups that they claim', async () => {
    const ask = asker(() => organisation.url, await sign({ groups: ['buyers'] }))
    expect((await ask('')).json.reader).toEqual({ role: 'enter', groups: ['buyers'], author: 'Gus' })
    expect((await ask('tables/hives')).json.columns.map(({ name }: { name: string }) => name)).not.toContain('cost')
    expect((await asker(() => organisation.url, await sign({ roles: ['wax:own', 'honey:king', 7] }))('')).status).toBe(404)
  })

  test.each([
    ['another algorithm', { alg: 'HS256' }],
    ['another key', { key: 'other' }],
    ['another audience', { audience: 'wax' }],
    ['its time over', { expires: '1s ago' }],
  ] as const)('one with %s does not', async (_, more) => {
    const expires = 'expires' in more ? { expires: new Date(Date.now() - 60_000) as unknown as string } : {}
    expect((await asker(() => organisation.url, await sign({}, { ...more, ...expires } as never))('')).status).toBe(401)
  })

  test.each(['', 'a.b.c', 'eyJhbGciOiJub25lIn0.eyJzdWIiOiJ1MSJ9.'])('nor does %j', async (token) => {
    expect((await asker(() => organisation.url, token)('')).status).toBe(401)
  })
})

describe('without tokens', () => {
  test('on this machine everyone may do everything, until there is a token; asked by another name nobody may', async () => {
    const alone = await Served.begin()
    await alone.stop()
    const folder = join(alone.folder, 'open')
    mkdirSync(folder)
    const server = await startServer({ folder, port: 0, log: 'silent' })
    expect(server.isOpen).toBe(true)
    expect((await asker(() => server.url)('/books')).json).toEqual({ books: [] })
    const port = Number(new URL(server.url).port)
    const answer = await new Promise<string>((resolve) => {
      const socket = connectSocket(port, '127.0.0.1', () =>
        socket.write('GET /books HTTP/1.1\r\nHost: elsewhere.example\r\nConnection: close\r\n\r\n'),
      )
      let text = ''
      socket.on('data', (data) => {
        text += data
      })
      socket.on('close', () => resolve(text))
    })
    expect(answer).toMatch(/^HTTP\/1.1 401/)
    writeFileSync(join(folder, 'tokens.json'), '{"tokens":[]}')
    // Within the second that a token may take to be noticed.
    await expect.poll(async () => (await asker(() => server.url)('/books')).status).toBe(401)
    await server.close()
    await alone.close()
  })

  test.each([
    [{ host: '0.0.0.0' }, 'anyone could come in'],
    [{ issuer: 'https://id.example' }, 'needs an audience'],
    [{ port: 70_000 }, 'port'],
    [{ colour: 'red' }, 'colour'],
    [{ folder: '/nowhere/at/all' }, 'there is no folder'],
  ])('%j is refused', async (options, message) => {
    const folder = join(served.folder, 'empty')
    mkdirSync(folder, { recursive: true })
    await expect(startServer({ folder, log: 'silent', ...options } as never)).rejects.toThrow(ServerOptionsFault)
    await expect(startServer({ folder, log: 'silent', ...options } as never)).rejects.toThrow(message)
  })
})

describe('what is sent to do harm', () => {
  const raw = (text: string): Promise<string> =>
    new Promise((resolve) => {
      const socket = connectSocket(Number(new URL(served.url).port), '127.0.0.1', () => socket.write(text))
      let answer = ''
      socket.on('data', (data) => {
        answer += data
      })
      socket.on('error', () => resolve(answer))
      socket.on('close', () => resolve(answer))
    })

  test.each([
    [
      '100 000 headers',
      () => `GET /books HTTP/1.1\r\nHost: x\r\n${Array.from({ length: 100_000 }, (_, at) => `h${at}: x\r\n`).join('')}\r\n`,
      431,
    ],
    ['no HTTP at all', () => 'hello\r\n\r\n', 400],
    ['two lengths', () => 'POST /books HTTP/1.1\r\nHost: x\r\nContent-Length: 3\r\nContent-Length: 5\r\n\r\nabc', 400],
    ['a way out of the folder', () => 'GET /books/../../etc/passwd HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n', 404],
  ])('%s', async (_, text, status) => {
    expect(await raw(text())).toMatch(new RegExp(`^HTTP/1.1 ${status} `))
  })

  test.each([
    ['headers', 'POST /books HTTP/1.1\r\nHost: x\r\n', 'x: y\r\n'],
    ['a body', 'POST /books HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 999\r\n\r\n', ' '],
    [
      'rows',
      'POST /books/honey/tables/hives/rows HTTP/1.1\r\nHost: x\r\nContent-Type: text/csv\r\nContent-Length: 999\r\n\r\n',
      'x',
    ],
    [
      'a file',
      'POST /books?name=big HTTP/1.1\r\nHost: x\r\nContent-Type: application/octet-stream\r\nContent-Length: 999\r\n\r\n',
      'x',
    ],
  ])('%s that come a sign at a time are waited for so long, and others are answered meanwhile', async (_, head, sign) => {
    const hasty = await Served.begin({ requestMs: 1_500 })
    const token = hasty.token('Sol', 'own', { books: ['*'] })
    const text = head.replace('Host: x\r\n', `Host: x\r\nAuthorization: Bearer ${token}\r\n`)
    const socket = connectSocket(Number(new URL(hasty.url).port), '127.0.0.1', () => socket.write(text))
    const drip = setInterval(() => socket.write(sign), 100)
    const answer = new Promise<string>((resolve) => {
      let said = ''
      socket.on('data', (data) => {
        said += data
        clearInterval(drip)
      })
      socket.on('error', () => resolve(said))
      socket.on('close', () => resolve(said))
    })
    expect((await asker(() => hasty.url, token)('/books')).status).toBe(200)
    expect(await answer).toMatch(/^HTTP\/1\.1 408 /)
    clearInterval(drip)
    expect((await asker(() => hasty.url, token)('/books')).json).toEqual({ books: [{ name: 'honey', role: 'own' }] })
    await hasty.close()
  })

  test('a link out of the folder is no workbook', async () => {
    symlinkSync('/etc/passwd', join(served.folder, 'secret.mellow'))
    const ask = as('Liv', 'own', { books: ['*'] })
    expect((await ask('/books')).json.books.map(({ name }: { name: string }) => name)).not.toContain('secret')
    expect((await ask('/books/secret')).status).toBe(404)
  })

  test('a body that is too large, and one that brings a prototype', async () => {
    const small = await Served.begin({ bodyBytes: 2_000, uploadBytes: 4_000 })
    const ask = asker(() => small.url, small.token('Sue', 'own', { books: ['*'] }))
    expect((await ask('operations', { body: { op: 'x', text: 'x'.repeat(3_000) } })).json).toMatchObject({
      status: 413,
      code: 'too-large',
    })
    expect((await ask('tables/harvests/rows', { body: 'x'.repeat(5_000), type: 'text/csv' })).status).toBe(413)
    expect((await ask('/books?name=big', { body: 'x'.repeat(5_000), type: 'application/octet-stream' })).status).toBe(413)
    expect((await ask('operations', { body: '{"__proto__":{"op":"x"}}' })).status).toBe(400)
    await small.close()
  })

  test('too many requests of one token are told when to come again, and others go on', async () => {
    const slow = await Served.begin({ rate: 5 })
    const [one, other] = ['Ruth', 'Rex'].map((name) => asker(() => slow.url, slow.token(name, 'read')))
    const all = await Promise.all(Array.from({ length: 12 }, () => (one as Ask)('/books')))
    const refused = all.filter(({ status }) => status === 429)
    expect(refused.length).toBeGreaterThan(3)
    expect(refused[0]?.json.code).toBe('too-many')
    expect(Number(refused[0]?.headers.get('retry-after'))).toBeGreaterThan(0)
    expect((await (other as Ask)('/books')).status).toBe(200)
    await slow.close()
  })

  test('a condition that looks at too many pairs of rows is refused, with their number', async () => {
    const cheap = await Served.begin({ cost: 10 })
    const ask = asker(() => cheap.url, cheap.token('Cy', 'read'))
    const where = encodeURIComponent('count(every harvests where abs(honey_kg - this.honey_kg) < 1) > 2')
    const { json } = await ask(`tables/harvests/rows?where=${where}`)
    expect(json).toMatchObject({ status: 422, code: 'too-costly', cost: expect.any(Number) })
    await cheap.close()
  })
})
