import type { Drawing } from '@mellow-abacus/charts'
import type { FileTable, WritableFormat } from '@mellow-abacus/files'
import { tableOperations } from '@mellow-abacus/files'
import {
  type Finding,
  type GroupedResult,
  isSameName,
  type Operation,
  type Query,
  type QueryResult,
  Refusal,
  type Severity,
  splitNames,
  Workbook,
} from 'mellow-abacus'
import type { ReadingArguments, SurroundingArguments, ViewArguments } from '../../options/index.js'
import {
  COLUMNS_OF_GROUPS,
  findingsJson,
  findingText,
  outputFormat,
  placeOf,
  refuseBadPath,
  SHOWN_ROWS,
  shownLines,
  startBar,
  tellNotHeld,
  writeDrawing,
  writeResult,
} from '../../output/index.js'
import {
  type DefinitionFault,
  furtherTable,
  type GivenDefinition,
  givenDefinitions,
  givenLinks,
  givenView,
  loadFile,
  optionDefinitions,
  surroundings,
  tableNameOf,
  typesOf,
  wholeNumber,
} from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, UsageFault } from '../../shell/index.js'
import { drawCalculated, drawingArguments } from './draw.js'

/** Everything `mellow calc` is told. */
export interface CalcArguments extends ReadingArguments, SurroundingArguments, ViewArguments {
  readonly formulas: readonly string[]
  readonly with: readonly string[]
  readonly link: readonly string[]
  readonly value: readonly string[]
  readonly columns?: string
  readonly limit?: string
  readonly exact?: boolean
  readonly output?: string
  readonly to?: WritableFormat | 'table' | 'svg' | 'png'
  readonly chart?: string
  readonly replace?: boolean
  readonly strict?: boolean
  readonly findings?: 'json'
  readonly color: boolean
}

/** Something to say, with where it stands and the formula it points into. */
interface Remark {
  readonly finding: Finding
  readonly where: string
  readonly formula?: string
}

/** Runs `mellow calc`: reads, defines, checks, and writes only when all of that is done. Gives the exit code. */
export async function runCalc(file: string, texts: readonly string[], args: CalcArguments, terminal: Io): Promise<number> {
  // With findings as JSON nothing else may stand on standard error.
  const io = args.findings === 'json' ? { ...terminal, showsProgress: false } : terminal
  const around = surroundings(args)
  const limit = args.limit === undefined ? undefined : wholeNumber('--limit', args.limit, 0)
  const { to, ...asRows } = args
  const out = { ...asRows, ...(to !== undefined && { to: to as WritableFormat | 'table' }) }
  if (args.output !== undefined) refuseBadPath(args.output)
  const { definitions, functions, faults } = givenDefinitions(args.formulas, texts)
  const values = optionDefinitions('--value', args.value)
  const grouped = givenView(args)
  const drawn = drawingArguments(args, grouped !== null)
  const { links, faults: linkFaults } = givenLinks(args.link)
  const allFaults = [...faults, ...values.faults, ...(grouped?.faults ?? []), ...linkFaults]
  if (allFaults.length > 0) return report(allFaults.map(remarkOfFault), args, io)
  if (grouped === null && args.fold !== undefined)
    throw new UsageFault('--fold is for groups; it goes with --group, --column, --tally or --line')
  if (grouped !== null && args.columns !== undefined) throw new UsageFault(COLUMNS_OF_GROUPS)
  const given = [...definitions, ...functions, ...(grouped?.definitions ?? []), ...values.definitions]
  const table = tableNameOf(file)
  const others = args.with.map(furtherTable)
  const isQualified = others.length > 0
  const read = await loadFile(file, isQualified ? { ...args, type: typesOf(args.type, table, true) } : args, around.zone, io)
  const further: { table: string; read: FileTable }[] = []
  for (const { table: name, path } of others)
    further.push({ table: name, read: await loadFile(path, { ...args, type: typesOf(args.type, name, false) }, around.zone, io) })
  const remarks: Remark[] = read.findings.map((finding) => ({ finding, where: file === '-' ? table : file }))
  const book = new Workbook(around)
  let result: QueryResult | GroupedResult | Drawing
  let folded: { readonly foldedFrom?: number } = {}
  try {
    book.apply([
      ...tableOperations(table, read),
      ...further.flatMap((one) => tableOperations(one.table, one.read)),
      ...links.map(({ link: { table: from = table, ...link } }) => ({ op: 'add-link' as const, table: from, ...link })),
      ...values.definitions.map(({ name, formula }) => ({ op: 'set-value' as const, name, formula })),
      ...functions,
      ...definitionOperations(table, read, definitions, args.replace === true),
      // As tallies of the table, so that one may use another and mistakes are told; a parameter is a name of the view alone.
      ...(args.parameter.length > 0 ? [] : (grouped?.tallies ?? [])).map(({ name, formula }) => ({
        op: 'set-tally' as const,
        table,
        name,
        formula,
      })),
    ])
    const remarksOf = (findings: readonly Finding[]): Remark[] =>
      findings.map((finding) => remarkOf(finding, table, formulaOf(finding, given, args)))
    // What is refused in the end is refused before the long work.
    if (book.stale.length > 0) {
      const known = [...remarks, ...remarksOf(book.findings())]
      if (isRefused(known, args)) return report(known, args, io)
    }
    await calculateRest(book, io)
    remarks.push(...remarksOf(book.check()))
    const isTable = drawn === null && outputFormat(out, io) === 'table'
    const asked = limit === undefined ? {} : { limit }
    const most = isTable ? { limit: SHOWN_ROWS } : {}
    const groups = grouped === null ? null : askQuery(() => book.group({ table, ...grouped.view, ...asked }), args)
    // Tallies are defined in the table too, so some of it has been said.
    const said = new Set(remarks.map(({ finding }) => sayingOf(finding)))
    remarks.push(...remarksOf((groups?.findings() ?? []).filter((one) => !said.has(sayingOf(one)))))
    const askRows = (): QueryResult | GroupedResult => {
      if (groups === null) return book.query({ table, ...queryOf(args), ...most, ...asked })
      const lines = shownLines(groups, outputFormat(out, io), {
        ...(args.fold !== undefined && { fold: args.fold }),
        ...asked,
      })
      if (lines.foldedFrom !== undefined) folded = { foldedFrom: lines.foldedFrom }
      return lines.result
    }
    result = drawn === null ? askQuery(askRows, args) : await drawCalculated(book, table, grouped, args)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return report(
      [...remarks, ...error.findings.map((finding) => remarkOf(finding, table, formulaOf(finding, given, args)))],
      args,
      io,
    )
  }
  const exitCode = report(remarks, args, io)
  if (exitCode !== ExitCode.done) return exitCode
  try {
    if (drawn !== null) await writeDrawing(result as Drawing, drawn, io)
    const notHeld =
      drawn !== null ? [] : await writeResult(result as QueryResult, out, io, { name: table, locale: around.locale, ...folded })
    if (args.findings !== 'json') tellNotHeld(notHeld, out, io)
  } catch (error) {
    // With --strict a format that cannot hold everything is refused.
    if (!(error instanceof Refusal)) throw error
    return report(
      error.findings.map((finding) => ({ finding, where: finding.column ?? file })),
      args,
      io,
    )
  }
  return exitCode
}

/** What a finding says, and of what. */
const sayingOf = ({ code, column, message }: Finding): string => JSON.stringify([code, column, message])

/** Milliseconds between two looks at the bar. */
const A_LOOK = 100

/** Calculates what takes so long that it was left; says so first, so that no one has to wait without knowing for what. */
async function calculateRest(book: Workbook, io: Io): Promise<void> {
  const left = (): number => book.stale.reduce((sum, { rows }) => sum + rows, 0)
  const total = left()
  if (total === 0) return
  const costly = book.findings().filter((one) => one.code === 'costly-scan')
  if (io.showsProgress)
    for (const { message } of costly) io.err(`${message} Ctrl+C ends it; nothing is written before the end.\n`)
  const bar = await startBar({ verb: 'calculating', total, unit: 'cells' }, io)
  while (book.flush(A_LOOK).isLeft) bar.update(total - left())
  bar.stop()
}

function remarkOfFault({ finding, where, text }: DefinitionFault): Remark {
  return { finding, where, formula: text }
}

function remarkOf(finding: Finding, table: string, formula: string | undefined): Remark {
  return { finding, where: placeOf(finding, table), ...(formula !== undefined && { formula }) }
}

/** The formula that a refused finding points into: the definition of its column. */
function formulaOf(
  finding: Finding,
  definitions: readonly { readonly name: string; readonly formula: string }[],
  args: CalcArguments,
): string | undefined {
  if (finding.column === '--where') return args.where
  const name = finding.column ?? finding.function
  return definitions.find((one) => name !== undefined && isSameName(one.name, name))?.formula
}

/** Runs the query; what is wrong with the condition is told of `--where`. */
function askQuery<Result>(ask: () => Result, args: CalcArguments): Result {
  try {
    return ask()
  } catch (error) {
    const isOfWhere = error instanceof Refusal && error.findings[0]?.column === undefined && error.findings[0]?.from !== undefined
    if (!(error instanceof Refusal) || args.where === undefined || !isOfWhere) throw error
    const [first, ...others] = error.findings.map((finding) => ({ ...finding, column: '--where' })) as [Finding, ...Finding[]]
    throw new Refusal([first, ...others])
  }
}

function queryOf(args: CalcArguments): Omit<Query, 'table' | 'limit'> {
  return {
    ...(args.where !== undefined && { where: args.where }),
    ...(args.order.length > 0 && { order: args.order.join(', ') }),
    ...(args.columns !== undefined && { columns: splitNames(args.columns) }),
  }
}

/** The columns to add; a definition that replaces a column of the file stands in its place and reads it by its own name. */
function definitionOperations(
  table: string,
  read: FileTable,
  definitions: readonly GivenDefinition[],
  replaces: boolean,
): Operation[] {
  const operations: Operation[] = []
  const taken = new Set(read.columns.map((column) => column.name))
  const replaced = new Set<string>()
  for (const { table: other, name, formula } of definitions) {
    if (other !== undefined && !isSameName(other, table)) {
      operations.push({ op: 'add-column', table: other, column: { name, formula } })
      continue
    }
    const original = read.columns.find((column) => isSameName(column.name, name))
    if (!replaces || original === undefined || replaced.has(original.name)) {
      operations.push({ op: 'add-column', table, column: { name, formula } })
      continue
    }
    replaced.add(original.name)
    let kept = `${original.name} of the file`
    while (taken.has(kept)) kept += '′'
    taken.add(kept)
    operations.push(
      { op: 'rename-column', table, column: original.name, to: kept },
      { op: 'change-column', table, column: kept, set: { hidden: true } },
      { op: 'add-column', table, column: { name, formula, original: kept }, before: kept },
    )
  }
  return operations
}

/** True when something is said that nothing is written after. */
function isRefused(remarks: readonly Remark[], args: CalcArguments): boolean {
  const blocking: readonly Severity[] = args.strict === true ? ['error', 'warning'] : ['error']
  return remarks.some(({ finding }) => blocking.includes(finding.severity))
}

/** Says everything there is to say and gives the exit code that follows from it. */
function report(remarks: readonly Remark[], args: CalcArguments, io: Io): number {
  const refused = isRefused(remarks, args)
  if (args.findings === 'json') io.err(findingsJson(remarks.map(({ finding }) => finding)))
  else {
    const paint = makePaint(io.colours)
    for (const { finding, where, formula } of remarks) io.err(findingText(finding, where, formula, paint))
    if (refused) io.err(nextStep(remarks, args))
  }
  return refused ? ExitCode.refused : ExitCode.done
}

/** What to type next, where that can be said. */
function nextStep(remarks: readonly Remark[], args: CalcArguments): string {
  const codes = new Set(remarks.filter(({ finding }) => finding.severity === 'error').map(({ finding }) => finding.code))
  if (codes.size === 0) return 'Nothing was written, because --strict refuses on warnings.\n'
  if (codes.has('unknown-function')) return 'Nothing was written. All functions: mellow functions\n'
  if (codes.has('name-taken') && args.replace !== true)
    return 'Nothing was written. With --replace a definition takes the place of a column of the file.\n'
  return 'Nothing was written.\n'
}
