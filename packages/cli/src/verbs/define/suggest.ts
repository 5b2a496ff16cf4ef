import {
  counted,
  isSameName,
  type Operation,
  printName,
  type Suggestion,
  type SuggestionExample,
  type SuggestionRequest,
  splitNames,
  type TableView,
} from 'mellow-abacus'
import Papa from 'papaparse'
import { change, lookAt, rowOf, shownText } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { wholeNumber } from '../../reading/index.js'
import { type Io, makePaint, shellWord, UsageFault } from '../../shell/index.js'

/** What `mellow suggest` is told. */
export interface SuggestArguments extends ChangeArguments {
  readonly from?: string
  readonly example: readonly string[]
  readonly most?: string
  readonly define?: string
  readonly to?: 'text' | 'json'
}

/** Runs `mellow suggest`: formulas that give what is wanted, and with `--define` one of them as new columns. */
export async function runSuggest(book: string, name: string, columns: string, args: SuggestArguments, io: Io): Promise<number> {
  const names = splitNames(columns)
  if (names.length === 0) throw new UsageFault("say what the new columns are called, such as 'first, last'.")
  if (args.example.length === 0)
    throw new UsageFault(
      `say what should come out in some rows, such as --example ${shellWord(`1: ${names.map(() => '…').join(', ')}`)}.`,
    )
  const number = args.define === undefined ? undefined : wholeNumber('--define', args.define, 1)
  const request = (table: TableView): SuggestionRequest => ({
    table: table.name,
    ...(args.from !== undefined && { from: splitNames(args.from) }),
    columns: names,
    examples: args.example.map((text) => exampleOf(table, names, text)),
    most: Math.max(number ?? 1, args.most === undefined ? 5 : wholeNumber('--most', args.most, 1)),
  })
  if (number === undefined)
    return lookAt(book, args, io, ({ book: workbook }) => {
      const table = workbook.table(name)
      const found = workbook.suggest(request(table))
      if (args.to === 'json') io.out(`${JSON.stringify(found.map(shownSuggestion), null, 2)}\n`)
      else io.show(suggestionsText(found, names, io, `mellow suggest ${shellWord(book)} ${again(name, columns, args)}`))
      return undefined
    })
  return change(book, args, io, (workbook) => {
    const table = workbook.table(name)
    const found = workbook.suggest(request(table))
    const taken = found[number - 1]
    if (taken === undefined)
      throw new UsageFault(
        `there ${found.length === 1 ? 'is 1 suggestion' : `are ${found.length} suggestions`}, so there is no ${number}.`,
      )
    return definitionsOf(table, taken)
  })
}

/** `3: Ada, Byron` taken apart: a row, and the wanted values of the new columns, several as the fields of a line of CSV. */
function exampleOf(table: TableView, names: readonly string[], text: string): SuggestionExample {
  const parts = /^\s*(id:\d+|label=.+?|[^:]+?)\s*:(?: |$)?(.*)$/s.exec(text)
  if (parts === null)
    throw new UsageFault(`an example is a row and what is wanted there, such as '3: Ada', not ${JSON.stringify(text)}.`)
  const [row, wanted] = [parts[1] as string, parts[2] as string]
  const fields = names.length === 1 ? [wanted] : fieldsOf(wanted)
  if (fields.length !== names.length)
    throw new UsageFault(
      `${JSON.stringify(text)} has ${counted(fields.length, 'value')} for ${counted(names.length, 'column')}; a value with a comma goes in double quotes.`,
    )
  return {
    row: rowOf(table, row),
    values: Object.fromEntries(names.map((name, at) => [name, fields[at] === '' ? null : (fields[at] as string)])),
  }
}

/** The fields of a line of CSV, without the space around them. */
function fieldsOf(line: string): string[] {
  const { data } = Papa.parse<string[]>(
    line.replace(/("(?:[^"]|"")*")|,\s+/g, (_, quoted: string | undefined) => quoted ?? ','),
    { delimiter: ',' },
  )
  return (data[0] ?? []).map((field) => field.trim())
}

/** A suggestion as it is written in JSON: rows by their numbers. */
function shownSuggestion({ question, ...suggestion }: Suggestion): object {
  if (question === undefined) return suggestion
  const { rowNumber, values, others, text } = question
  return { ...suggestion, question: { row: rowNumber, values, others, text } }
}

function suggestionsText(found: readonly Suggestion[], names: readonly string[], io: Io, command: string): string {
  const paint = makePaint(io.colours)
  const lines = found.flatMap(({ formulas, explanation, rows, blanks, errors }, at) => {
    const [first = '', ...others] = names.map((name) => `${printName(name)} = ${formulas[name]}`)
    const flaws = [...(blanks > 0 ? [counted(blanks, 'blank')] : []), ...(errors > 0 ? [counted(errors, 'error')] : [])]
    return [
      `${String(at + 1).padStart(2)}  ${paint.strong(first)}`,
      ...others.map((line) => `    ${paint.strong(line)}`),
      ...explanation.split('\n').map((line) => `    ${line}`),
      ...(flaws.length > 0 ? [`    ${flaws.join(' and ')} in ${counted(rows, 'row')}`] : []),
    ]
  })
  const question = found[0]?.question
  const asked = question === undefined ? [] : ['', questionText(question, names)]
  const next = ['', paint.quiet(`Take the first: ${command} --define 1`)]
  return `${[...lines, ...asked, ...next].join('\n')}\n`
}

/** What to say in which row, so that the best two are told apart. */
function questionText({ rowNumber, values, others }: NonNullable<Suggestion['question']>, names: readonly string[]): string {
  const said = (of: typeof values): string => names.map((name) => shownText(of[name])).join(', ')
  return `They differ in row ${rowNumber}: 1 gives ${said(values)}, 2 gives ${said(others)}. Say which is right: --example ${shellWord(`${rowNumber}: ${said(values)}`)}`
}

/** The command that was given, but for the workbook. */
function again(table: string, columns: string, { from, example }: SuggestArguments): string {
  const sources = from === undefined ? '' : ` --from ${shellWord(from)}`
  return `${shellWord(table)} ${shellWord(columns)}${sources}${example.map((text) => ` --example ${shellWord(text)}`).join('')}`
}

function definitionsOf(table: TableView, { formulas }: Suggestion): Operation[] {
  return Object.entries(formulas).map(([name, formula]) => {
    const known = table.columns.find((column) => isSameName(column.name, name))
    return known === undefined
      ? { op: 'add-column', table: table.name, column: { name, formula } }
      : { op: 'change-column', table: table.name, column: known.name, set: { formula } }
  })
}
