import type { Cell } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { refusal, refuseErrors } from '../../findings/index.js'
import { type Checked, checkFormula, parseFormula, typeWords } from '../../formula/index.js'
import { fitPolynomial, HIGHEST_DEGREE } from '../../functions/index.js'
import { CellFault, MS_PER_DAY, printDate, printDateTime, type ValueType } from '../../values/index.js'
import { type Model, type RowsTable, scopeOf, shownAs } from '../model/index.js'
import { cellsOfPlan, conditionOf } from '../queries/index.js'
import type { Fit, FitCoefficient, FitPoints, FitQuantity, FitRequest, LeftOut } from './fit-types.js'
import { unitOfPower } from './fit-units.js'
import { readFit } from './given-fit.js'

/**
 * Fits a polynomial to rows of a table by least squares, or holds a given curve to them.
 *
 * @throws Refusal for unknown names and fields, formulas with mistakes, values that are no numbers or times, a degree that is
 *   none, and no more different x than the degree
 */
export function fitRows(model: Model, engine: Engine, given: FitRequest): Fit {
  const request = readFit(given)
  const table = model.table(request.table)
  const { coefficients } = request
  const degree = request.degree ?? (coefficients === undefined ? 1 : coefficients.length - 1)
  refuseDegree(table, degree, coefficients)
  const y = quantity(model, engine, table, request.y, ['number', 'integer'])
  const x = quantity(model, engine, table, request.x, ['number', 'integer', 'date', 'datetime'])
  const rows = rowsOf(model, engine, table, request.where, y.cells, x.cells)
  const time = x.type === 'date' || x.type === 'datetime' ? x.type : null
  const first = rows.used.reduce((least, row) => Math.min(least, row.x), Number.POSITIVE_INFINITY)
  const inDays = (value: number): number => (time === null ? value : (value - first) / (time === 'datetime' ? MS_PER_DAY : 1))
  const best = coefficients === undefined ? fitPolynomial(rows.used, degree, time) : null
  if (rows.used.length === 0 || (coefficients === undefined && best === null)) {
    const reason = `a polynomial of degree ${degree} takes at least ${degree + 1} different x, and there are ${new Set(rows.used.map((row) => row.x)).size}.`
    throw refusal('bad-operation', { place: 'the fit', reason }, { table: table.name })
  }
  const ascending = coefficients?.toReversed() ?? best?.coefficients ?? []
  const at = (value: number): number => ascending.reduceRight((sum, coefficient) => sum * value + coefficient, 0)
  const left = best?.leftSquares ?? squares(rows.used.map((row) => row.y - at(inDays(row.x))))
  const free = rows.used.length - ascending.length
  const xUnit = time === null ? x.unit : 'd'
  return {
    table: table.name,
    where: request.where ?? null,
    y: factsOf(y),
    x: { ...factsOf(x), unit: xUnit },
    degree,
    coefficients: ascending
      .map((value, power): FitCoefficient => {
        return { power, value, error: best?.errors[power] ?? null, unit: unitOfPower(y.unit, xUnit, power) }
      })
      .toReversed(),
    isGiven: coefficients !== undefined,
    start: time === null ? null : time === 'date' ? printDate(first) : printDateTime(first),
    rSquared: best === null ? partExplained(rows.used, left) : best.rSquared,
    rms: Math.sqrt(left / rows.used.length),
    deviation: free > 0 ? Math.sqrt(left / free) : null,
    rowCount: rows.used.length,
    leftOut: rows.leftOut,
    at,
    points: (): FitPoints => ({
      ids: rows.used.map(({ id }) => id),
      x: Float64Array.from(rows.used, (row) => inDays(row.x)),
      y: Float64Array.from(rows.used, (row) => row.y),
      residuals: Float64Array.from(rows.used, (row) => row.y - at(inDays(row.x))),
    }),
  }
}

interface Measured extends FitQuantity {
  readonly cells: readonly Cell[]
}

const factsOf = ({ formula, symbol, unit, type }: Measured): FitQuantity => ({ formula, symbol, unit, type })

/** What a formula gives on all rows, with the name and the unit that go with it. */
function quantity(model: Model, engine: Engine, table: RowsTable, formula: string, types: readonly ValueType[]): Measured {
  const checked = checkFormula(parseFormula(formula), scopeOf(model, table))
  refuseErrors(checked.findings.map((one) => ({ ...one, table: table.name })))
  const { expression } = checked
  const { type, from, to } = expression
  if (type === 'blank' || type === 'unknown' || !types.includes(type)) {
    const expected = types.length > 2 ? 'a number, a date or a date-time' : 'a number'
    const received = type === 'unknown' ? 'blanks' : typeWords(type)
    throw refusal('type-mismatch', { place: 'A fit', expected, received }, { table: table.name, from, to })
  }
  const { symbol, unit } = shownAs(model, checked)
  const cells = cellsOfPlan(engine, table, engine.compile(checked))
  return { formula, symbol: symbol ?? nameOf(expression, table) ?? formula.trim(), unit: unit ?? null, type, cells }
}

function nameOf(expression: Checked, table: RowsTable): string | undefined {
  return expression.kind === 'column' ? table.withId(expression.column)?.name : undefined
}

interface UsedRow {
  readonly id: number
  readonly x: number
  readonly y: number
}

/** The rows with an x and a y, in ascending order of both, so that their order in the table moves no bit; and those without. */
function rowsOf(
  model: Model,
  engine: Engine,
  table: RowsTable,
  where: string | undefined,
  ys: readonly Cell[],
  xs: readonly Cell[],
): { readonly used: readonly UsedRow[]; readonly leftOut: readonly LeftOut[] } {
  const { rows } = table.store
  const all = rows.inOrder()
  const kept =
    where === undefined
      ? null
      : new Set(engine.select(table.store, engine.compile(conditionOf(table, where, scopeOf(model, table)))))
  const counts = { condition: 0, error: 0, blank: 0 }
  const used: UsedRow[] = []
  for (const slot of all) {
    const [x, y] = [xs[slot] ?? null, ys[slot] ?? null]
    if (kept?.has(slot) === false) counts.condition++
    else if (x instanceof CellFault || y instanceof CellFault) counts.error++
    else if (typeof x !== 'number' || typeof y !== 'number') counts.blank++
    else used.push({ id: rows.idOf(slot), x, y })
  }
  used.sort((a, b) => a.x - b.x || a.y - b.y)
  const leftOut = Object.entries(counts).map(([reason, count]) => ({ reason: reason as LeftOut['reason'], rows: count }))
  return { used, leftOut: leftOut.filter((one) => one.rows > 0) }
}

function refuseDegree(table: RowsTable, degree: number, coefficients: readonly number[] | undefined): void {
  const isKnown = Number.isInteger(degree) && degree >= 1 && degree <= HIGHEST_DEGREE
  const isOther = coefficients !== undefined && coefficients.length !== degree + 1
  if (isKnown && !isOther) return
  const reason = isOther
    ? `a curve of degree ${degree} has ${degree + 1} coefficients, and ${coefficients.length} were given.`
    : `the degree is 1 to ${HIGHEST_DEGREE}, not ${degree}.`
  throw refusal('bad-operation', { place: 'the fit', reason }, { table: table.name })
}

const squares = (values: readonly number[]): number => values.reduce((sum, value) => sum + value * value, 0)

/** Which part of the squares of y around its mean a curve accounts for, given what it leaves. */
function partExplained(rows: readonly UsedRow[], left: number): number | null {
  const mean = rows.reduce((sum, { y }) => sum + y, 0) / rows.length
  const total = squares(rows.map(({ y }) => y - mean))
  return total === 0 ? null : 1 - left / total
}
