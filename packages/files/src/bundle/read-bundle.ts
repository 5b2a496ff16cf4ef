import type { OperationJson, Surroundings } from 'mellow-abacus'
import * as v from 'valibot'
import { joinBytes } from '../bytes.js'
import { ReadFault } from '../reading/read-fault.js'
import { readTable } from '../reading/read-table.js'
import { unfoldParts } from '../reading/zip-parts.js'
import { Bundle } from './bundle-shape.js'

/** A bundle that was read: what makes the same workbook. */
export interface ReadBundle {
  readonly surroundings: Surroundings
  readonly operations: readonly OperationJson[]
}

/** Rows of a table without source columns. */
const MOST_BLANK_ROWS = 1_000_000
/** Largest `book.json`. */
const MOST_JSON = 2 ** 26

/**
 * Reads a bundle.
 *
 * @throws ReadFault for what is no bundle, or one whose parts do not fit together, naming the part and the field.
 */
export async function readBundle(bytes: Uint8Array): Promise<ReadBundle> {
  const parts = partsOf(bytes)
  const bundle = definitionsIn(parts.get('book.json'))
  const operations: OperationJson[] = bundle.values.map(({ name, type, formula, value = null }) =>
    formula === undefined ? { op: 'set-value', name, value, ...(type && { type }) } : { op: 'set-value', name, formula },
  )
  for (const one of bundle.functions ?? []) operations.push({ op: 'set-function', ...one })
  const tables = await Promise.all(bundle.tables.map((table) => operationsOf(table, parts)))
  // Tables come before what leads from one to another.
  operations.push(...tables.flatMap(({ made }) => made), ...tables.flatMap(({ rest }) => rest))
  for (const report of bundle.reports ?? []) operations.push({ op: 'set-report', ...report })
  for (const chart of bundle.charts ?? []) operations.push({ op: 'set-chart', ...chart })
  for (const [name, value] of Object.entries(bundle.metadata ?? {})) operations.push({ op: 'set-metadata', name, value })
  if (bundle.mode === 'on-demand') operations.push({ op: 'set-mode', mode: 'on-demand' })
  return { surroundings: bundle.surroundings, operations }
}

function partsOf(bytes: Uint8Array): Map<string, Uint8Array> {
  const pieces = new Map<string, Uint8Array[]>()
  unfoldParts(bytes, 'a bundle', (name) => {
    if (name !== 'book.json' && !name.startsWith('tables/')) return null
    const own: Uint8Array[] = []
    pieces.set(name, own)
    return (piece) => void own.push(piece)
  })
  return new Map([...pieces].map(([name, own]) => [name, joinBytes(own)]))
}

function definitionsIn(json: Uint8Array | undefined): Bundle {
  if (json === undefined) throw new ReadFault('this is not a bundle: it has no book.json.')
  if (json.byteLength > MOST_JSON) throw new ReadFault('book.json is larger than 64 MiB; it is not read.')
  let parsed: unknown
  try {
    parsed = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(json))
  } catch (error) {
    throw new ReadFault(`book.json is not JSON: ${(error as Error).message}`)
  }
  const read = v.safeParse(Bundle, parsed, { abortEarly: true })
  if (read.success) return read.output
  const [issue] = read.issues
  const path = (issue.path ?? []).map(({ key }) => String(key)).join('.')
  throw new ReadFault(`book.json${path === '' ? '' : `, ${path}`}: ${issue.message}.`)
}

async function operationsOf(
  { name: table, rows, data, label, key, parent, columns, links, tallies, rules, kept }: Bundle['tables'][number],
  parts: ReadonlyMap<string, Uint8Array>,
): Promise<{ made: OperationJson[]; rest: OperationJson[] }> {
  const types = new Map(columns.flatMap(({ name, type, formula }) => (type && formula === undefined ? [[name, { type }]] : [])))
  const part = data === null ? undefined : parts.get(data)
  if (data !== null && part === undefined) throw new ReadFault(`the part ${data}, with the rows of ${table}, is missing.`)
  if (data === null && rows > MOST_BLANK_ROWS) throw new ReadFault(`${table} has ${rows} rows without any cell; it is not read.`)
  const read = part === undefined ? null : await rowsOf(part, data as string, types)
  if (read !== null && read.rowCount !== rows)
    throw new ReadFault(`${data} has ${read.rowCount} rows, and book.json says that ${table} has ${rows}.`)
  const block = Object.fromEntries((read?.columns ?? []).flatMap(({ name, column }) => (column === null ? [] : [[name, column]])))
  const made: OperationJson[] = [
    { op: 'add-table', table, columns: columns.map(({ stamp: _, orderKey: __, paused: ___, ...column }) => column) },
    { op: 'insert-rows', table, block, count: rows, ids: { first: 1, count: rows } },
  ]
  if (kept.length > 0) made.push({ op: 'set-cells', table, cells: kept })
  const rest: OperationJson[] = [
    { op: 'change-table', table, set: { label, key, parent } },
    ...links.map((link) => ({ op: 'add-link', table, ...link })),
    ...tallies.map((tally) => ({ op: 'set-tally', table, ...tally })),
    ...rules.map((rule) => ({ op: 'set-rule', table, ...rule })),
    ...columns.flatMap(({ name: column, orderKey }) =>
      orderKey === undefined ? [] : [{ op: 'change-column', table, column, set: { orderKey } }],
    ),
    ...columns.flatMap(({ name: column, paused: aside }) =>
      aside === undefined ? [] : [{ op: 'pause-column', table, column, aside }],
    ),
    // Rows that come with their stamps are not stamped again.
    ...columns.flatMap(({ name: column, stamp }) =>
      stamp === undefined
        ? []
        : [
            { op: 'set-stamp', table, column, stamp },
            { op: 'stamp-cells', table, column, rows: [], value: null },
          ],
    ),
  ]
  return { made, rest }
}

async function rowsOf(
  part: Uint8Array,
  name: string,
  types: NonNullable<Parameters<typeof readTable>[2]>['types'],
): ReturnType<typeof readTable> {
  try {
    return await readTable([part], 'csv', { ...(types && { types }), delimiter: ',' })
  } catch (error) {
    if (error instanceof ReadFault) throw new ReadFault(`${name}: ${error.message}`)
    throw error
  }
}
