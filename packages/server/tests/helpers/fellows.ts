import { copyFileSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { BOOK_TABLES, BookFile, type BookTable } from '@mellow-abacus/files'
import type { Role } from 'mellow-abacus'
import pg from 'pg'
import { makeFile } from '../../../host/tests/helpers/homes.js'
import type { TestServer } from '../../../sql/tests/helpers/postgresql-server.mjs'
import type { GivenServerOptions } from '../../src/index.js'
import { type Answer, type Ask, asker } from './ask.js'
import { Served } from './serve.js'

let databases = 0

/** The address of a new database of a server. */
export async function newDatabase({ address }: TestServer): Promise<string> {
  const client = new pg.Client(address)
  await client.connect()
  const name = `store${++databases}`
  await client.query(`create database ${name}`)
  await client.end()
  return address.replace(/[^/]+$/, name)
}

/** Servers over one store, in this process, each with a folder of its own; all take the same tokens. */
export class Fellows {
  readonly served: readonly Served[]
  readonly store: string
  readonly pool: pg.Pool
  readonly token: string

  private constructor(store: string, served: readonly Served[], token: string) {
    this.store = store
    this.served = served
    this.token = token
    this.pool = new pg.Pool({ connectionString: store, max: 2 })
    this.pool.on('error', () => undefined)
  }

  static async begin(server: TestServer, count: number, options: Partial<GivenServerOptions> = {}): Promise<Fellows> {
    const store = await newDatabase(server)
    const first = await Served.begin({ store, ...options }, null)
    const token = first.token('Olga', 'own', { books: ['*'], operator: true })
    const served = [first]
    while (served.length < count) served.push(await Served.begin({ store, ...options }, null, {}, first))
    return new Fellows(store, served, token)
  }

  at(index: number): Served {
    return this.served[index] as Served
  }

  /** Makes a token that all of the servers take. */
  tokenOf(name: string, role: Role, groups: readonly string[] = []): string {
    const token = this.at(0).token(name, role, { groups })
    for (const other of this.served.slice(1)) copyFileSync(this.at(0).tokens.path, other.tokens.path)
    return token
  }

  /** Someone who asks one of the servers. */
  ask(index: number, token: string = this.token): Ask {
    return asker(() => this.at(index).url, token)
  }

  /** Gives one of the servers a workbook of the co-operative, which it has from then on. */
  async give(index: number, name = 'honey'): Promise<Answer> {
    const { path, remove } = makeFile()
    try {
      const response = await fetch(`${this.at(index).url}/books?name=${name}`, {
        method: 'POST',
        headers: { authorization: `Bearer ${this.token}`, 'content-type': 'application/octet-stream' },
        body: readFileSync(path),
      })
      const text = await response.text()
      return { status: response.status, headers: response.headers, text, json: JSON.parse(text) }
    } finally {
      remove()
    }
  }

  /** Which server has a workbook, by its place; null for none. */
  async ownerOf(name = 'honey'): Promise<number | null> {
    const { rows } = await this.pool.query(
      `select s.address from mellow_store.leases as l join mellow_store.servers as s on s.id = l.owner join mellow_store.books as b on b.id = l.book
      where b.name = $1 and l.expires > clock_timestamp()`,
      [name],
    )
    const at = this.served.findIndex(({ url }) => url === rows[0]?.address)
    return at < 0 ? null : at
  }

  /** What the store has of a workbook, as texts in order, table by table. */
  async kept(name = 'honey'): Promise<Record<string, string[]>> {
    const tables = Object.entries(BOOK_TABLES).map(async ([table, { columns }]) => {
      const { rows } = await this.pool.query(
        `select ${columns.map((column) => `t.${column}`).join(', ')} from mellow_store.${table} as t join mellow_store.books as b on b.id = t.book where b.name = $1`,
        [name],
      )
      return [table, rows.map((row) => textOf(columns.map((column) => row[column]))).sort()]
    })
    return Object.fromEntries(await Promise.all(tables))
  }

  /** What the copy of a server has of it, in the same form. */
  copy(index: number, name = 'honey'): Record<string, string[]> {
    const { folder } = this.at(index)
    const copies = readdirSync(folder).find((one) => one.startsWith('copies-')) ?? ''
    const file = readdirSync(join(folder, copies)).find((one) => one.startsWith(`${name}-`) && one.endsWith('.mellow')) ?? ''
    const opened = BookFile.open(join(folder, copies, file))
    try {
      const all = Object.fromEntries(Object.keys(BOOK_TABLES).map((table) => [table, [] as string[]]))
      for (const one of opened.rows()) if ('row' in one) all[one.table as BookTable]?.push(textOf(one.row))
      for (const rows of Object.values(all)) rows.sort()
      return all
    } finally {
      opened.close()
    }
  }

  async close(): Promise<void> {
    await this.pool.end()
    for (const served of this.served) await served.close()
  }
}

function textOf(row: readonly unknown[]): string {
  return JSON.stringify(
    row.map((value) =>
      value instanceof Uint8Array ? Buffer.from(value).toString('hex') : value === null ? null : String(value),
    ),
  )
}
