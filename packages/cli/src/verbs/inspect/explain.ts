import { tableOperations } from '@mellow-abacus/files'
import { explanationText, type Finding, parseDefinition, parseFormula, printName, Workbook } from 'mellow-abacus'
import type { ReadingArguments, SurroundingArguments } from '../../options/index.js'
import { findingsJson, findingText } from '../../output/index.js'
import { loadFile, surroundings, tableNameOf } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, UsageFault } from '../../shell/index.js'

/** Everything `mellow explain` is told. */
export interface ExplainArguments extends ReadingArguments, SurroundingArguments {
  readonly with: readonly string[]
  readonly strict?: boolean
  readonly findings?: 'json'
  readonly color: boolean
}

/** Runs `mellow explain`. Gives the exit code: 1 when the formula has mistakes, and then nothing is explained. */
export async function runExplain(text: string, args: ExplainArguments, given: Io): Promise<number> {
  const io = args.findings === 'json' ? { ...given, showsProgress: false } : given
  const around = surroundings(args)
  const book = new Workbook(around)
  const tables: string[] = []
  for (const option of args.with) {
    const { table, file } = tableOption(option)
    if (tables.includes(table)) throw new UsageFault(`--with names the table ${table} twice.`)
    book.apply(tableOperations(table, await loadFile(file, args, around.zone, io)))
    tables.push(table)
  }
  const home = tables[0]
  if (home === undefined) book.apply({ op: 'add-table', table: NO_TABLE })
  const language = book.language(home ?? NO_TABLE)
  const names = home === undefined ? [] : book.table(home).columns.map((column) => column.name)
  const { name, formula } = definitionOf(text, names)
  // Without a table no name is known, so only the text of the formula itself and its functions can be wrong.
  const unknown = home === undefined ? language.findings(formula).filter(({ code }) => code === 'unknown-function') : []
  const findings = home === undefined ? [...parseFormula(formula).findings, ...unknown] : language.findings(formula)
  const exitCode = report(findings, home ?? 'formula', name, formula, args, io)
  if (exitCode !== ExitCode.done) return exitCode
  const paint = makePaint(io.colours)
  if (name !== null) io.show(`${paint.calculated(printName(name))}\n`)
  const explanation = language.explain(formula)
  const type = TYPE_WORDS[explanation.type]
  io.show(`${explanationText(explanation)}\n${home === undefined || type === undefined ? '' : `The result is ${type}.\n`}`)
  return exitCode
}

/** What a result is called. */
const TYPE_WORDS: Readonly<Record<string, string>> = {
  number: 'a number',
  text: 'a text',
  boolean: 'true or false',
  date: 'a date',
  datetime: 'a date-time',
}

/** The table that stands in where none is given; its name is never shown. */
const NO_TABLE = 'row'

/** `table=file`, or a file whose name is the table's. */
function tableOption(option: string): { table: string; file: string } {
  const match = /^([^=]+)=(.+)$/.exec(option)
  const [table, file] = match === null ? [tableNameOf(option), option] : [match[1] as string, match[2] as string]
  if (file === '-') throw new UsageFault('--with reads files, not standard input.')
  return { table, file }
}

/** A definition has a name that is no column yet; otherwise "=" compares. */
function definitionOf(text: string, columns: readonly string[]): { name: string | null; formula: string } {
  const parsed = parseDefinition(text)
  const isDefinition = !('findings' in parsed) && parsed.formula !== '' && !columns.includes(parsed.name)
  return isDefinition ? parsed : { name: null, formula: text }
}

function report(
  findings: readonly Finding[],
  table: string,
  name: string | null,
  formula: string,
  args: ExplainArguments,
  io: Io,
): number {
  const blocking = args.strict === true ? ['error', 'warning'] : ['error']
  if (args.findings === 'json') io.err(findingsJson(findings))
  else {
    const where = name === null ? table : `${table}.${printName(name)}`
    for (const finding of findings) io.err(findingText(finding, where, formula, makePaint(io.colours)))
  }
  return findings.some((one) => blocking.includes(one.severity)) ? ExitCode.refused : ExitCode.done
}
