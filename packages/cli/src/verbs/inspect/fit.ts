import {
  counted,
  displayNumber,
  equationOf,
  type Fit,
  type FitRequest,
  fitDefinitions,
  isSameName,
  type LeftOut,
  type Operation,
  parseFit,
  Refusal,
  type TableView,
} from 'mellow-abacus'
import { change, lookAt, tableOf } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { outputFormat, writeResult } from '../../output/index.js'
import { ExitCode, type Io, makePaint, type Paint, shellWord, UsageFault } from '../../shell/index.js'
import { recordRows } from './records.js'
import type { RowsArguments } from './rows-arguments.js'

/** What `mellow fit` is told. */
export type FitArguments = Pick<RowsArguments, 'where' | 'exact' | 'output' | 'to'> &
  ChangeArguments & {
    readonly degree?: string
    readonly coefficients?: string
    readonly define?: string
    readonly residuals?: string
  }

/** Runs `mellow fit`: says the curve, and with `--define` writes it into the table. */
export async function runFit(book: string, table: string, quantities: string, args: FitArguments, io: Io): Promise<number> {
  const { y, x } = quantitiesOf(quantities)
  if (args.residuals !== undefined && args.define === undefined)
    throw new UsageFault('--residuals is what a curve leaves, so it goes with --define, which names the curve.')
  const asked: Omit<FitRequest, 'table'> = {
    y,
    x,
    ...(args.where !== undefined && { where: args.where }),
    ...(args.degree !== undefined && { degree: numberOf('--degree', args.degree) }),
    ...(args.coefficients !== undefined && { coefficients: coefficientsOf(args.coefficients) }),
  }
  const shown = await lookAt(book, args, io, async ({ book: workbook }) => {
    const fit = workbook.fit({ table: tableOf(workbook, table).name, ...asked })
    await tellFit(fit, args, io)
    if (args.define !== undefined || args.findings === 'json') return
    io.err(
      makePaint(io.colours).quiet(
        `As a column that follows the data: mellow fit ${book} ${table} ${shellWord(quantities)} --degree ${fit.degree} --define fitted\n`,
      ),
    )
  })
  const { define } = args
  if (shown !== ExitCode.done || define === undefined) return shown
  return change(book, args, { ...io, show: (text) => io.err(text) }, (workbook) => {
    const of = tableOf(workbook, table)
    return definitionsOf(workbook.fit({ table: of.name, ...asked }), of, define, args.residuals)
  })
}

/** `height by time` taken apart. */
function quantitiesOf(text: string): Pick<FitRequest, 'x' | 'y'> {
  try {
    return parseFit(text)
  } catch (error) {
    if (error instanceof Refusal) throw new UsageFault(String(error.findings[0]?.parameters.reason))
    throw error
  }
}

function numberOf(option: string, text: string): number {
  const number = Number(text)
  if (text.trim() !== '' && Number.isFinite(number)) return number
  throw new UsageFault(`${option} takes a number, not ${JSON.stringify(text)}.`)
}

/** Coefficients as they are typed: from that of the highest power, separated by commas. */
function coefficientsOf(text: string): number[] {
  return text.split(',').map((part) => numberOf('--coefficients', part))
}

const COLUMNS = [
  { name: 'power', type: 'integer' },
  { name: 'coefficient', type: 'number' },
  { name: 'standard_error', type: 'number' },
  { name: 'unit', type: 'text' },
  { name: 'r_squared', type: 'number' },
  { name: 'rms', type: 'number' },
  { name: 'deviation', type: 'number' },
  { name: 'rows', type: 'integer' },
]

/** Says a curve: as text for the eye, else a row a coefficient. */
async function tellFit(fit: Fit, args: FitArguments, io: Io): Promise<void> {
  if (outputFormat(args, io) === 'table') return io.show(fitText(fit, args.exact === true, makePaint(io.colours)))
  const { rSquared: r_squared, rms, deviation, rowCount: rows } = fit
  const records = fit.coefficients.map(({ power, value, error, unit }) => {
    return { power, coefficient: value, standard_error: error, unit, r_squared, rms, deviation, rows }
  })
  await writeResult(recordRows(COLUMNS, records), args, io, { name: `${fit.y.symbol} by ${fit.x.symbol}` })
  if (args.findings !== 'json') for (const one of fit.leftOut) io.err(`${leftOutText(one, fit)}\n`)
}

/** Significant digits of what is said of a curve, unless all are wanted. */
const DIGITS = 6

function fitText(fit: Fit, exact: boolean, paint: Paint): string {
  const { coefficients, rSquared, rms, deviation, rowCount, y, isGiven } = fit
  const number = (value: number): string => displayNumber(exact ? value : Number(value.toPrecision(DIGITS)))
  const withUnit = (value: number, unit: string | null): string => `${number(value)}${unit === null ? '' : ` ${unit}`}`
  const rows = coefficients.map(({ power, value, error, unit }) => [
    power === 0 ? 'constant' : power === 1 ? fit.x.symbol : `${fit.x.symbol} ^ ${power}`,
    number(value),
    isGiven ? '' : error === null ? '' : `± ${number(error)}`,
    unit ?? '',
  ])
  const widths = [0, 1, 2, 3].map((at) => Math.max(...rows.map((row) => row[at]?.length ?? 0)))
  const lines = rows.map(([name = '', value = '', error = '', unit = '']) => {
    const cells = [name.padEnd(widths[0] ?? 0), value.padStart(widths[1] ?? 0), error.padEnd(widths[2] ?? 0), unit]
    return `  ${cells.join('  ').trimEnd()}`
  })
  const quality = [
    `R² ${rSquared === null ? 'is blank, since y is the same everywhere' : number(rSquared)}`,
    `root mean square of the residuals ${withUnit(rms, y.unit)}`,
    ...(deviation === null ? [] : [`their standard deviation ${withUnit(deviation, y.unit)}`]),
    counted(rowCount, 'row'),
  ]
  const left = fit.leftOut.map((one) => `${paint.quiet(leftOutText(one, fit))}\n`)
  return `${paint.strong(equationOf(fit, exact))}\n${lines.join('\n')}\n${quality.join(', ')}\n${left.join('')}`
}

const REASONS: Readonly<Record<LeftOut['reason'], (fit: Fit) => string>> = {
  condition: ({ where }) => `where ${where} is not true`,
  blank: ({ x, y }) => `${y.symbol} or ${x.symbol} is blank`,
  error: ({ x, y }) => `${y.symbol} or ${x.symbol} is an error`,
}

function leftOutText({ reason, rows }: LeftOut, fit: Fit): string {
  return `${counted(rows, 'row')} left out: ${REASONS[reason](fit)}`
}

/** The operations that write a curve into its table, and what is left of it. */
function definitionsOf(fit: Fit, table: TableView, name: string, residuals: string | undefined): Operation[] {
  const known = (name: string): boolean => table.columns.some((column) => isSameName(column.name, name))
  const { tallies, column } = fitDefinitions(fit, name, (one) => !known(one))
  const put = (one: { name: string; formula: string }): Operation =>
    known(one.name)
      ? { op: 'change-column', table: table.name, column: one.name, set: { formula: one.formula } }
      : { op: 'add-column', table: table.name, column: one }
  return [
    ...tallies.map((tally): Operation => ({ op: 'set-tally', table: table.name, ...tally })),
    put(column),
    ...(residuals === undefined ? [] : [put({ name: residuals, formula: `(${fit.y.formula}) - ${column.name}` })]),
  ]
}
