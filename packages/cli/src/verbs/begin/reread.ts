import type { DeclaredType, FileTable } from '@mellow-abacus/files'
import { type ColumnView, isSameName, type OperationInput, printName, type TableView, type Workbook } from 'mellow-abacus'
import { change } from '../../books/index.js'
import { loadFile } from '../../input/load.js'
import type { Io } from '../../terminal/io.js'
import { UsageFault } from '../../terminal/usage.js'
import type { RereadArguments } from './commands.js'
import { mergedReading } from './reading-source.js'

/** Runs `mellow reread`. */
export function runReread(book: string, name: string, file: string | undefined, args: RereadArguments, io: Io): Promise<number> {
  return change(book, args, io, async (workbook) => {
    const table = workbook.table(name)
    const { source } = table.properties
    const path = file ?? source?.file
    if (path === undefined)
      throw new UsageFault(`${name} was not read from a file; name one: mellow reread ${book} ${name} <file>`)
    const merged = mergedReading(args, source?.options ?? {})
    const read = await loadFile(path, merged, workbook.surroundings.zone, io, typesNow(table, args))
    return rereadOperations(workbook, table, read, args)
  })
}

const sources = (table: TableView): ColumnView[] => table.columns.filter((column) => column.formula === null)

/** The types of the columns, by the names the file has for them now: a column keeps its type, so that codes stay codes. */
function typesNow(table: TableView, args: RereadArguments): Map<string, DeclaredType> {
  const renamed = new Map(args.map.map(pair))
  return new Map(
    sources(table).flatMap(({ name, type }) => (type === null ? [] : [[renamed.get(name) ?? name, { type }] as const])),
  )
}

/** `old=new`. Errors: UsageFault. */
function pair(text: string): [string, string] {
  const at = text.indexOf('=')
  if (at <= 0) throw new UsageFault(`--map takes old=new, not ${JSON.stringify(text)}.`)
  return [text.slice(0, at), text.slice(at + 1)]
}

/** The operations that take a file in anew: columns renamed, gone and new, then the rows. */
export function rereadOperations(book: Workbook, table: TableView, read: FileTable, args: RereadArguments): OperationInput[] {
  const renames = new Map(args.map.map(pair))
  const find = (name: string): ColumnView | undefined => table.columns.find((one) => isSameName(one.name, name))
  const nameOf = (column: ColumnView): string => renames.get(column.name) ?? column.name
  const inFile = (name: string): boolean => read.columns.some((one) => isSameName(one.name, name))
  const own = sources(table)
  const gone = own.filter((column) => !inFile(nameOf(column)))
  const fresh = read.columns.filter(({ name }) => !own.some((column) => isSameName(nameOf(column), name)))
  const kept = new Set(args.keep)
  const operations: OperationInput[] = []
  for (const [from, to] of renames) {
    if (find(from) === undefined) throw new UsageFault(`${table.name} has no column ${from} to be called ${to}.`)
    operations.push({ op: 'rename-column', table: table.name, column: from, to })
  }
  for (const column of gone) {
    if (kept.has(column.name)) continue
    const users = readersOf(book, table, column)
    if (users.length > 0 && !args.detach.includes(column.name))
      throw new UsageFault(
        goneMessage(
          table,
          column,
          users,
          fresh.map(({ name }) => name),
        ),
      )
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
      throw new UsageFault(
        `the file has a column ${printName(name)} now, and ${table.name} calculates one of that name; rename one of them.`,
      )
    operations.push({ op: 'add-column', table: table.name, column: { name, ...(column !== null && { type: column.type }) } })
  }
  const block = Object.fromEntries(
    read.columns.map(({ name, column }) => [
      name,
      column === null ? Array.from({ length: read.rowCount }, () => null) : column.toJSON(),
    ]),
  )
  const { key } = table.properties
  const keyNow = key?.map((name) => renames.get(name) ?? name)
  return [...operations, { op: 'reread-rows', table: table.name, block, ...(keyNow !== undefined && { key: keyNow }) }]
}

function readersOf(book: Workbook, table: TableView, column: ColumnView): string[] {
  return book.trace(`${printName(table.name)}.${printName(column.name)}`).downstream.map((edge) => edge.to)
}

function goneMessage(table: TableView, column: ColumnView, users: readonly string[], fresh: readonly string[]): string {
  const similar = fresh.length === 0 ? '' : ` If it has another name now: --map ${column.name}=${fresh[0]}.`
  return `the file has no column ${column.name} any more, and ${users.join(', ')} ${users.length === 1 ? 'reads' : 'read'} it.${similar} To keep its values of now: --keep ${column.name}. To keep what follows as it is: --detach ${column.name}. ${table.name} is as it was.`
}
