import { existsSync } from 'node:fs'
import { type ReadRows, tableOperations } from '@mellow-abacus/files'
import {
  type Database,
  DatabaseFault,
  describeRelation,
  readRelation,
  type SampledCell,
  type SampledColumn,
  SourceFault,
  type SourceSample,
  sourceOfSample,
  takeSample,
} from '@mellow-abacus/sql'
import {
  CellFault,
  counted,
  isSameName,
  type Operation,
  printName,
  splitNames,
  type TableView,
  type WorkbookView,
} from 'mellow-abacus'
import { Column, parseDateText, parseDateTimeText } from 'mellow-abacus/storage'
import { bookPath, change, isAtServer, isUrl, makeBook } from '../../books/index.js'
import type { ChangeArguments, SurroundingArguments } from '../../options/index.js'
import { openAddress, surroundings, wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { CommandRefusal, ExitCode } from '../../shell/index.js'
import { columnDriftText, type TakingArguments, takingIn } from './reread.js'

/** What `mellow attach` is told. */
export interface AttachArguments extends TakingArguments, ChangeArguments, SurroundingArguments {
  readonly from: string
  readonly source?: string
  readonly sample?: string
  readonly key?: string
}

/** Rows of a sample, unless another number is said. */
const USUAL_SAMPLE = '50000'

/** Runs `mellow attach`: a table that is a sample of what a database has, in a workbook that is made if there is none. */
export async function runAttach(book: string, name: string, args: AttachArguments, io: Io): Promise<number> {
  const most = wholeNumber('--sample', args.sample ?? USUAL_SAMPLE, 1)
  const around = surroundings(args)
  const isNew = isUrl(book) ? !(await isAtServer(book)) : !existsSync(bookPath(book))
  const database = await openAddress(args.from)
  try {
    if (isNew) {
      const sample = await sampled(database, name, args, { most, zone: around.zone ?? 'UTC', former: null })
      tell(name, database, sample, args, io)
      if (args.preview !== true) return await makeBook(book, around, made(name, database, sample), args, io)
      io.show(`${book} would be made, with the table ${printName(name)}.\n`)
      return ExitCode.done
    }
    return await change(book, args, io, async (workbook) => {
      const table = workbook.tables.some((one) => isSameName(one, name)) ? workbook.table(name) : null
      const sample = await sampled(database, name, args, { most, zone: workbook.surroundings.zone, former: table })
      tell(name, database, sample, args, io)
      return table === null ? made(name, database, sample) : takenAnew(workbook, table, database, sample, args, io)
    })
  } finally {
    await database.close()
  }
}

/** Takes the sample; the key of a table that is there already stays, unless another is said. */
async function sampled(
  database: Database,
  name: string,
  args: AttachArguments,
  { most, zone, former }: { readonly most: number; readonly zone: string; readonly former: TableView | null },
): Promise<SourceSample> {
  try {
    const relation = await describeRelation(database, readRelation(args.source ?? name))
    const said = args.key === undefined ? null : splitNames(args.key)
    return await takeSample(database, relation, { most, key: said ?? formerKey(former), zone })
  } catch (error) {
    if (error instanceof SourceFault || error instanceof DatabaseFault) throw new CommandRefusal(error.message)
    throw error
  }
}

/** The key of a table, by the names that its columns have in the database; null where it was not attached with one. */
function formerKey(table: TableView | null): string[] | null {
  if (table === null || table.properties.key === null) return null
  const names = namesIn(table)
  const key = table.properties.key.map((column) => [...names].find(([, own]) => own === column)?.[0])
  return key.every((one) => one !== undefined) ? (key as string[]) : null
}

/** The names of the columns of a table by those that they have in the database. */
function namesIn({ properties: { source } }: TableView): Map<string, string> {
  return new Map(source !== null && 'database' in source ? source.columns.map(({ of, column }) => [of, column]) : [])
}

function made(table: string, database: Database, sample: SourceSample): Operation[] {
  return [...tableOperations(table, asRows(sample.columns, sample.rowCount)), attaching(table, database, sample)]
}

/** A table that is there already keeps its formulas, and the names that its columns were given. */
function takenAnew(
  workbook: WorkbookView,
  table: TableView,
  database: Database,
  sample: SourceSample,
  args: AttachArguments,
  io: Io,
): Operation[] {
  const names = namesIn(table)
  const columns = sample.columns.map((one) => ({ ...one, column: names.get(one.of) ?? one.of }))
  const own = { ...sample, columns }
  const read = asRows(columns, sample.rowCount)
  if (args.findings !== 'json') io.err(columnDriftText(table, read, args))
  return [...takingIn(workbook, table, read, { order: 'file', ...args }), attaching(table.name, database, own)]
}

function attaching(table: string, database: Database, sample: SourceSample): Operation {
  const { columns, key } = sample
  const nameOf = (of: string): string => columns.find((one) => one.of === of)?.column ?? of
  const source = sourceOfSample(database, sample)
  return { op: 'change-table', table, set: { source, ...(key !== null && { key: key.map(nameOf) }) } }
}

/** A sample as rows that were read. */
function asRows(columns: readonly SampledColumn[], rowCount: number): ReadRows {
  return {
    columns: columns.map(({ column: name, type, cells }) => {
      const column = new Column(type)
      for (const [slot, cell] of cells.entries()) {
        column.occupy(slot)
        column.write(slot, stored(cell, type))
      }
      return { name, column }
    }),
    rowCount,
  }
}

function stored(cell: SampledCell, type: SampledColumn['type']): number | string | boolean | null | CellFault {
  if (typeof cell === 'object') return cell === null ? null : new CellFault('misfit', cell.misfit)
  if (type === 'date') return parseDateText(String(cell))
  return type === 'datetime' ? parseDateTimeText(String(cell)) : cell
}

/** What was attached: the sample, and what all rows hold that it may not show. */
function tell(name: string, { address }: Database, sample: SourceSample, args: AttachArguments, io: Io): void {
  if (args.findings === 'json') return
  const { relation, columns, rowCount, key, leftOut } = sample
  const rows = counted(relation.rows, 'row')
  const taken = rowCount === relation.rows ? `all ${rows}` : `a sample of ${rowCount.toLocaleString('en')} of ${rows}`
  const order =
    key === null
      ? 'no key, so its rows have no order: name one with --key for functions of neighbouring rows'
      : `key ${key.map(printName).join(', ')}`
  io.err(`${printName(name)}: ${taken} of ${relation.path.join('.')} in ${address}; ${order}\n`)
  for (const { of, as, type, blanks, zeros, misfits } of columns) {
    const held = [
      ...(blanks > 0 ? [counted(blanks, 'blank')] : []),
      ...(zeros > 0 ? [counted(zeros, 'zero')] : []),
      ...(misfits > 0 ? [counted(misfits, 'misfit')] : []),
    ]
    io.err(`  ${printName(of)}: ${type} (${as})${held.length === 0 ? '' : `; of all rows ${held.join(', ')}`}\n`)
  }
  for (const one of leftOut) io.err(`  ${printName(one.name)}: left out, since ${one.reason}\n`)
}
