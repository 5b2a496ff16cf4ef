import { isSameName, type OperationInput, type TableView, type WorkbookView } from 'mellow-abacus'
import { assignment, type ChangeArguments, change, counted, rowOf, typedValue } from '../../books/index.js'
import { findingText } from '../../terminal/findings.js'
import type { Io } from '../../terminal/io.js'
import { makePaint } from '../../terminal/paint.js'
import { CommandRefusal, ExitCode, UsageFault } from '../../terminal/usage.js'
import { optionDefinitions } from '../calc/definitions.js'
import type { WhereArguments } from './commands.js'

/** Runs `mellow set`. */
export function runSet(book: string, name: string, words: readonly string[], args: WhereArguments, io: Io): Promise<number> {
  const [first, ...others] = words
  const isByRow = args.where === undefined
  const values = (isByRow ? others : words).map(assignment)
  if (isByRow && (first === undefined || /^(?!label=)[^=]+=/.test(first)))
    throw new UsageFault(`say which row, or --where: mellow set ${book} ${name} 12 mites=9`)
  if (values.length === 0) throw new UsageFault('say what to write, as name=value.')
  return change(book, args, io, (workbook) => {
    const table = workbook.table(name)
    const rows = isByRow ? [rowOf(table, first as string)] : rowsWhere(workbook, name, args.where as string)
    const cells = rows.flatMap((row) => values.map((one) => ({ row, column: one.name, value: typedFor(table, one) })))
    return cells.length === 0 ? [] : [{ op: 'set-cells', table: table.name, cells }]
  })
}

const typedFor = (table: TableView, { name, value }: { readonly name: string; readonly value: string }): unknown =>
  typedValue(value, table.columns.find((column) => isSameName(column.name, name))?.type ?? null)

function rowsWhere(book: WorkbookView, table: string, where: string): number[] {
  return book.query({ table, where }).ids()
}

/** Runs `mellow rows`. */
export function runRows(
  book: string,
  name: string,
  action: string,
  words: readonly string[],
  args: WhereArguments,
  io: Io,
): Promise<number> {
  if (action === 'add') return change(book, args, io, (workbook) => added(workbook.table(name), words))
  if (action !== 'remove') throw new UsageFault(`mellow rows <book> <table> add or remove, not ${JSON.stringify(action)}.`)
  if (words.length === 0 && args.where === undefined) throw new UsageFault('say which rows, or --where.')
  return change(book, args, io, (workbook) => {
    const table = workbook.table(name)
    const listed = words.map((word) => rowOf(table, word))
    const rows = args.where === undefined ? listed : rowsWhere(workbook, name, args.where)
    return rows.length === 0 ? [] : [{ op: 'remove-rows', table: table.name, rows: [...new Set(rows)] }]
  })
}

/** New rows: so many, one unless said, each with the values given. */
function added(table: TableView, words: readonly string[]): OperationInput[] {
  const [first, ...others] = words
  const isCount = first !== undefined && /^\d+$/.test(first)
  const values = (isCount ? others : words).map(assignment)
  const row = Object.fromEntries(values.map((one) => [one.name, typedFor(table, one)]))
  return [{ op: 'insert-rows', table: table.name, rows: Array.from({ length: isCount ? Number(first) : 1 }, () => row) }]
}

/** Runs `mellow fill`. */
export async function runFill(
  book: string,
  name: string,
  text: string,
  args: ChangeArguments & { readonly replace?: boolean },
  io: Io,
): Promise<number> {
  const { definitions, faults } = optionDefinitions('definition', [text])
  const [given] = definitions
  if (given === undefined) {
    for (const { finding, where } of faults) io.err(findingText(finding, where, text, makePaint(io.colours)))
    return ExitCode.refused
  }
  return change(book, args, io, (workbook) => {
    const table = workbook.table(name)
    const known = table.columns.find((column) => isSameName(column.name, given.name))
    if (known?.formula != null && !known.isPaused)
      throw new CommandRefusal(
        `${name}.${known.name} is calculated, so it is not written over. Drop its formula first: mellow detach ${book} ${name}.${known.name}`,
      )
    const filled = known?.summary().values ?? 0
    if (filled > 0 && args.replace !== true && !reads(given.formula, given.name))
      throw new CommandRefusal(
        `${name}.${given.name} has ${counted(filled, 'value')}, which would be lost. To write over them: --replace.`,
      )
    const { type, rows, values } = workbook.evaluate(table.name, given.formula)
    const column = known?.name ?? given.name
    const made =
      known === undefined
        ? [{ op: 'add-column', table: table.name, column: { name: column, ...(type !== null && { type }) } }]
        : []
    return [
      ...made,
      { op: 'set-cells', table: table.name, cells: rows.map((row, index) => ({ row, column, value: values[index] })) },
    ]
  })
}

/** True for a formula that names the column itself: who reads the old value knows that there is one. */
function reads(formula: string, name: string): boolean {
  return (formula.match(/`(?:[^`]|``)+`|[\p{L}_][\p{L}\p{N}_]*/gu) ?? []).some((word) =>
    isSameName(word.replace(/^`|`$/g, ''), name),
  )
}
