import { resolve } from 'node:path'
import { ENGINES, type EngineName } from '../dialects/index.js'
import { DatabaseFault } from './database.js'

/** Where a database is. */
export interface DatabaseAddress {
  readonly engine: EngineName
  /** What the driver takes: a connection URL, or the path of a file. */
  readonly target: string
  /** The same as it may be shown. */
  readonly shown: string
  /** The same as it may be kept: one text for one database from whatever folder it is asked for, without user and password. */
  readonly kept: string
}

/**
 * Reads an address: `postgresql://host/database` or `duckdb:file.db`.
 *
 * @throws DatabaseFault for any other, and for one that holds a password: an address can be seen by others in a list of processes,
 * so a password comes from the environment
 */
export function parseAddress(text: string): DatabaseAddress {
  if (/^duckdb:/i.test(text)) {
    const target = text.slice('duckdb:'.length)
    if (target === '') throw new DatabaseFault('duckdb: expects a file, such as duckdb:honey.db.')
    return { engine: 'duckdb', target, shown: `duckdb:${target}`, kept: `duckdb:${resolve(target)}` }
  }
  if (!/^postgres(ql)?:\/\//i.test(text)) {
    const engines = ENGINES.join(' or ')
    throw new DatabaseFault(`expected postgresql://host/database or duckdb:file.db; the engines are ${engines}.`)
  }
  let url: URL
  try {
    url = new URL(text)
  } catch {
    throw new DatabaseFault('expected an address such as postgresql://host/database.')
  }
  if (url.password !== '' || url.searchParams.has('password'))
    throw new DatabaseFault(
      'an address with a password could be seen by others. Leave it out, and set PGPASSWORD or write it to ~/.pgpass.',
    )
  if (url.pathname.length < 2) throw new DatabaseFault('expected a database in the address: postgresql://host/database.')
  const shown = `postgresql://${url.host}${url.pathname}`
  return { engine: 'postgresql', target: text, shown, kept: keptAddress(url) }
}

/** A server's address as it is kept: host and port, whether they are in front or behind, and the database. */
function keptAddress(url: URL): string {
  const host = url.host === '' ? (url.searchParams.get('host') ?? '') : url.hostname
  const port = url.port === '' ? (url.searchParams.get('port') ?? '') : url.port
  const isFolder = host.startsWith('/')
  const place = `${isFolder ? '' : host.toLowerCase()}${port === '' || port === '5432' || isFolder ? '' : `:${port}`}`
  const behind = isFolder ? `?host=${host}${port === '' ? '' : `&port=${port}`}` : ''
  return `postgresql://${place}${url.pathname}${behind}`
}
