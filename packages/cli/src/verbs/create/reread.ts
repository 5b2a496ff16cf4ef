import { resolve } from 'node:path'
import type { DeclaredType, FileTable, ReadRows } from '@mellow-abacus/files'
import {
  type ColumnView,
  isSameName,
  type Operation,
  printName,
  type TableView,
  type ValueType,
  type WorkbookView,
} from 'mellow-abacus'
import { Column } from 'mellow-abacus/storage'
import { change } from '../../books/index.js'
import type { ChangeArguments, ReadingArguments } from '../../options/index.js'
import { findingText, shownPath } from '../../output/index.js'
import { columnType, fileSource, loadFile, mergedReading, readingSource } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { CommandRefusal, makePaint, UsageFault } from '../../shell/index.js'
import { type ColumnDrift, columnDrift, driftText, fileColumns, mapOption } from './column-drift.js'
import { rowDrift, rowDriftText } from './row-drift.js'

/** How rows and columns that come again are taken in. */
export interface TakingArguments {
  readonly map: readonly string[]
  readonly keep: readonly string[]
  readonly detach: readonly string[]
  readonly gone?: 'keep' | 'drop'
  readonly order?: 'file' | 'table'
}

/** What `mellow reread` is told. */
export interface RereadArguments extends TakingArguments, ChangeArguments, ReadingArguments {
  readonly repeated?: 'keep' | 'drop'
}

/** Runs `mellow reread`. */
export function runReread(book: string, name: string, file: string | undefined, args: RereadArguments, io: Io): Promise<number> {
  return change(book, args, io, async (workbook) => {
    const table = workbook.table(name)
    const source = fileSource(table)
    const path = file ?? source?.file
    if (path === undefined) throw new UsageFault(noFileMessage(book, table))
    const kept = source?.options ?? {}
    const merged = { ...mergedReading(args, kept), type: args.type }
    const whole = await loadFile(path, merged, workbook.surroundings.zone, io, typesNow(table, args, typesKept(kept)))
    const rows = rowDrift(table, whole, nameIn(args))
    if (args.findings !== 'json') {
      const paint = makePaint(io.colours)
      for (const one of whole.findings) io.err(findingText(one, shownPath(path), undefined, paint))
      io.err(columnDriftText(table, whole, args) + rowDriftText(table, whole, rows, args, book))
    }
    const read = args.repeated === 'drop' ? withoutRows(whole, rows.repeated) : whole
    return [...takingIn(workbook, table, read, args), ...sourceOperations(table, resolve(path), kept, read, args)]
  })
}

function noFileMessage(book: string, { name, properties: { source } }: TableView): string {
  const way = `mellow reread ${book} ${name} <file>`
  if (source === null) return `${name} was not read from a file; name one: ${way}`
  return `${name} is attached to a database. To take another sample: mellow attach ${book} ${name} --from <address>. To read a file in its place: ${way}`
}

/** What becomes of the columns of a table when something is taken in anew, for the reader. */
export function columnDriftText(table: TableView, read: ReadRows, args: TakingArguments): string {
  return driftText(table.name, columnDrift(table, read, nameIn(args))) + typeText(table, read, args)
}

/** The operations that take rows and columns in anew, all but where they come from. */
export function takingIn(workbook: WorkbookView, table: TableView, read: ReadRows, args: TakingArguments): Operation[] {
  const drift = columnDrift(table, read, nameIn(args))
  return [...leavingOperations(table, drift, args), ...rereadOperations(workbook, table, read, drift, args)]
}

/** What a column is called in the file, as far as that was said. */
function nameIn(args: TakingArguments): (column: ColumnView) => string {
  const renames = new Map(args.map.map(pair))
  return ({ name }) => renames.get(name) ?? name
}

const sources = (table: TableView): ColumnView[] => table.columns.filter((column) => column.formula === null)

/** The types that were said when the table was read before, with their patterns. */
function typesKept({ type = [] }: Readonly<Record<string, unknown>>): Map<string, DeclaredType> {
  return new Map((type as readonly string[]).map(columnType))
}

/**
 * The types of the columns, by the names the file has for them now: a column keeps its type, so that codes stay codes. Where
 * numbers are said to be written otherwise than before, columns that were found to be texts are looked at anew.
 */
function typesNow(table: TableView, args: RereadArguments, kept: ReadonlyMap<string, DeclaredType>): Map<string, DeclaredType> {
  const nameOf = nameIn(args)
  const hasOtherMarks = args.decimal !== undefined || args.thousands !== undefined
  return new Map(
    sources(table).flatMap((column) => {
      const { name, type } = column
      const said = kept.get(name)
      if (hasOtherMarks && type === 'text' && said === undefined) return []
      return type === null ? [] : [[nameOf(column), said?.type === type ? said : { type }] as const]
    }),
  )
}

/** Columns that go are no longer of the file before they go, so that undoing finds each step's columns there. */
function leavingOperations(table: TableView, { gone }: ColumnDrift, args: TakingArguments): Operation[] {
  const { source } = table.properties
  const stays = ({ name }: ColumnView): boolean => !gone.some((one) => one.name === name) || args.keep.includes(name)
  const columns = fileColumns(table).filter(stays)
  if (source?.columns === undefined || columns.length === source.columns.length) return []
  const names = columns.map(({ name }) => name)
  const staying =
    'database' in source
      ? { ...source, columns: source.columns.filter(({ column }) => names.includes(column)) }
      : { ...source, columns: names }
  return [{ op: 'change-table', table: table.name, set: { source: staying } }]
}

/** Updates what the table knows of its source: where it was read from, how, and which columns there were. */
function sourceOperations(
  table: TableView,
  file: string,
  kept: Readonly<Record<string, unknown>>,
  read: FileTable,
  args: RereadArguments,
): Operation[] {
  const renames = new Map(args.map.map(pair))
  const types = ((kept.type ?? []) as readonly string[]).map((text) => {
    const [name] = columnType(text)
    return renames.has(name) ? `${renames.get(name)}${text.slice(name.length)}` : text
  })
  const options = { ...kept, ...(types.length > 0 && { type: types }), ...readingSource(args) }
  const columns = read.columns.map(({ name }) => name)
  const next = { file, options, columns }
  if (JSON.stringify(table.properties.source) === JSON.stringify(next)) return []
  return [{ op: 'change-table', table: table.name, set: { source: next } }]
}

/**
 * `old=new`.
 *
 * @throws UsageFault
 */
function pair(text: string): [string, string] {
  const at = text.indexOf('=')
  if (at <= 0) throw new UsageFault(`--map takes old=new, not ${JSON.stringify(text)}.`)
  return [text.slice(0, at), text.slice(at + 1)]
}

/** The operations that take a file in anew: columns renamed, gone and new, then the rows. */
function rereadOperations(
  book: WorkbookView,
  table: TableView,
  read: ReadRows,
  { gone, fresh, renamed }: ColumnDrift,
  args: TakingArguments,
): Operation[] {
  const renames = new Map(args.map.map(pair))
  const find = (name: string): ColumnView | undefined => table.columns.find((one) => isSameName(one.name, name))
  const kept = new Set(args.keep)
  const operations: Operation[] = []
  for (const name of [...args.keep, ...args.detach])
    if (!gone.some((column) => column.name === name))
      throw new CommandRefusal(`${printName(name)} is not among the columns of ${table.name} that the file has no more.`)
  for (const [from, to] of renames) {
    if (find(from) === undefined) throw new CommandRefusal(`${table.name} has no column ${from} to be called ${to}.`)
    if (!read.columns.some(({ name }) => isSameName(name, to)))
      throw new CommandRefusal(`the source has no column ${printName(to)} that ${printName(from)} could be.`)
    operations.push({ op: 'rename-column', table: table.name, column: from, to })
  }
  for (const column of gone) {
    if (kept.has(column.name)) continue
    const users = readersOf(book, table, column)
    if (users.length > 0 && !args.detach.includes(column.name))
      throw new CommandRefusal(goneMessage(table, column, users, renamed.get(column.name)))
    operations.push({
      op: 'remove-column',
      table: table.name,
      column: column.name,
      ...(users.length > 0 && { dependants: 'detach' }),
    })
  }
  for (const { name, column } of fresh) {
    const known = find(name)
    if (known !== undefined)
      throw new CommandRefusal(
        `the file has a column ${printName(name)} now, and ${table.name} calculates one of that name; rename one of them.`,
      )
    operations.push({ op: 'add-column', table: table.name, column: { name, ...(column !== null && { type: column.type }) } })
  }
  operations.push(...typeOperations(table, read, args))
  const block = Object.fromEntries(
    read.columns.map(({ name, column }) => [
      name,
      column === null ? Array.from({ length: read.rowCount }, () => null) : column.toJSON(),
    ]),
  )
  const { key } = table.properties
  const keyNow = key?.map((name) => renames.get(name) ?? name)
  const { gone: fate, order } = args
  return [
    ...operations,
    {
      op: 'reread-rows',
      table: table.name,
      block,
      ...(keyNow !== undefined && { key: keyNow }),
      ...(fate !== undefined && { gone: fate }),
      ...(order === 'file' && { order: 'source' }),
    },
  ]
}

/** Columns that are read as another type than they have, by the names the file has for them. */
function retyped(table: TableView, read: ReadRows, args: TakingArguments): { column: ColumnView; to: string; type: ValueType }[] {
  const nameOf = nameIn(args)
  return sources(table).flatMap((column) => {
    const found = read.columns.find(({ name }) => isSameName(name, nameOf(column)))?.column
    return found == null || column.type === null || found.type === column.type
      ? []
      : [{ column, to: nameOf(column), type: found.type }]
  })
}

function typeOperations(table: TableView, read: ReadRows, args: TakingArguments): Operation[] {
  return retyped(table, read, args).map(({ to, type }) => ({ op: 'change-column', table: table.name, column: to, set: { type } }))
}

/** Which columns get another type, for the reader. */
function typeText(table: TableView, read: ReadRows, args: TakingArguments): string {
  return retyped(table, read, args)
    .map(({ column, type }) => `${printName(table.name)}: ${printName(column.name)} is ${type} now, and was ${column.type}\n`)
    .join('')
}

/** A file without some of its rows. */
function withoutRows(read: FileTable, left: readonly number[]): FileTable {
  if (left.length === 0) return read
  const out = new Set(left)
  const columns = read.columns.map((one) => {
    if (one.column === null) return one
    const column = new Column(one.column.type)
    for (let row = 0, to = 0; row < read.rowCount; row++) {
      if (out.has(row)) continue
      column.occupy(to)
      column.write(to++, one.column.read(row))
    }
    return { ...one, column }
  })
  return { ...read, columns, rowCount: read.rowCount - out.size }
}

function readersOf(book: WorkbookView, table: TableView, column: ColumnView): string[] {
  return book.trace(`${printName(table.name)}.${printName(column.name)}`).downstream.map((edge) => edge.to)
}

function goneMessage(table: TableView, column: ColumnView, users: readonly string[], renamed: string | undefined): string {
  const similar = renamed === undefined ? '' : ` It looks like ${renamed} now: ${mapOption(column.name, renamed)}.`
  return `the source has no column ${column.name} any more, and ${users.join(', ')} ${users.length === 1 ? 'reads' : 'read'} it.${similar} To keep its values of now: --keep ${column.name}. To keep what follows as it is: --detach ${column.name}. ${table.name} is as it was.`
}
