import { type CellValue, counted, isSameName, type Operation, printName, type TableView, type WorkbookView } from 'mellow-abacus'
import { assignment, change, rowOf, typedValue } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { findingText } from '../../output/index.js'
import { cellReading, optionDefinitions } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { CommandRefusal, ExitCode, makePaint, UsageFault } from '../../shell/index.js'

/** What verbs are told that take rows by a condition. */
export interface WhereArguments extends ChangeArguments {
  readonly where?: string
}

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
    const typed = typedValues(workbook, table, values, io)
    const cells = rows.flatMap((row) => typed.map(({ name, value }) => ({ row, column: name, value })))
    return cells.length === 0 ? [] : [{ op: 'set-cells', table: table.name, cells }]
  })
}

/** What was typed for some columns, read as the file of the table was; what does not fit is said at once. */
function typedValues(
  book: WorkbookView,
  table: TableView,
  words: readonly { readonly name: string; readonly value: string }[],
  io: Io,
): { name: string; value: CellValue }[] {
  const { reading, types } = cellReading(table, book.surroundings.zone)
  return words.map(({ name, value: text }) => {
    const column = table.columns.find((one) => isSameName(one.name, name))
    const type = column?.type ?? null
    const said = types.get(column?.name ?? '')
    const value = typedValue(text, type === null ? null : said?.type === type ? said : { type }, reading)
    if (typeof value === 'object' && value !== null)
      io.err(
        `${JSON.stringify(text)} is no ${type} of ${printName(table.name)}.${printName(name)}; it is kept as a text that does not fit.\n`,
      )
    return { name, value }
  })
}

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
  if (action === 'add') return change(book, args, io, (workbook) => added(workbook, workbook.table(name), words, io))
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
function added(book: WorkbookView, table: TableView, words: readonly string[], io: Io): Operation[] {
  const [first, ...others] = words
  const isCount = first !== undefined && /^\d+$/.test(first)
  const values = typedValues(book, table, (isCount ? others : words).map(assignment), io)
  const row = Object.fromEntries(values.map(({ name, value }) => [name, value]))
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
    const column = known?.name ?? given.name
    return [
      ...(known === undefined ? [{ op: 'add-column' as const, table: table.name, column: { name: column } }] : []),
      { op: 'fill-column', table: table.name, column, formula: given.formula },
    ]
  })
}

/** True for a formula that names the column itself: who reads the old value knows that there is one. */
function reads(formula: string, name: string): boolean {
  return (formula.match(/`(?:[^`]|``)+`|[\p{L}_][\p{L}\p{N}_]*/gu) ?? []).some((word) =>
    isSameName(word.replace(/^`|`$/g, ''), name),
  )
}
