import { columnOfCells, type ReadonlyColumn } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { refuseErrors } from '../../findings/index.js'
import { type Checked, type CheckedFormula, checkFormula, parseFormula } from '../../formula/index.js'
import { foldName, type ValueType } from '../../values/index.js'
import { type Fit, fitRows } from '../fits/index.js'
import { type ColumnModel, type Model, plainName, type RowsTable, scopeOf, seriesName, shownAs } from '../model/index.js'
import { cellsOfPlan, columnGiven, conditionOf, inPlaces, placesOf, type QueryColumn, stateOf } from '../queries/index.js'
import type { ChartDefinition } from '../schemas/index.js'
import { badChart, refuseNames, refuseTotal, refuseType } from './chart-refusals.js'
import type { ChartData } from './chart-types.js'
import { arrangedPoints } from './points.js'

/** A chart of rows with its formulas checked, by where they stand in it. */
export interface KnownRows {
  readonly table: RowsTable
  readonly where: CheckedFormula | null
  readonly x: CheckedFormula
  readonly series: readonly CheckedFormula[]
  readonly formulas: ReadonlyMap<string, CheckedFormula>
}

/**
 * Checks a chart of rows.
 *
 * @throws Refusal for unknown names, formulas with mistakes, series that are no numbers, and a total among bars of its parts
 */
export function knownRows(model: Model, table: RowsTable, definition: ChartDefinition): KnownRows {
  const { where, x, series, level } = definition
  if (x === undefined) throw badChart('a chart of rows says what runs along: a column or a formula.', 'x')
  if (level !== undefined) throw badChart('only a report has levels.', 'level')
  refuseNames(definition)
  const scope = scopeOf(model, table)
  const formulas = new Map<string, CheckedFormula>()
  const checked = (text: string, place: string, column: string): CheckedFormula => {
    const formula = checkFormula(parseFormula(text), scope)
    refuseErrors(formula.findings.map((one) => ({ ...one, table: table.name, column })))
    formulas.set(place, formula)
    return formula
  }
  const condition = where === undefined ? null : conditionOf(table, where, scope)
  if (condition !== null) formulas.set('where', condition)
  const along = checked(x, 'x', 'x')
  const over = series.map((one, at) => {
    const formula = checked(one.formula, `series ${at}`, seriesName(one))
    refuseType(formula.expression.type, seriesName(one), table.name)
    return formula
  })
  refuseTotal(definition, (_, at) => isTotalOfTable(model, table, over[at]?.expression))
  return { table, where: condition, x: along, series: over, formulas }
}

/** True for a formula that is the sum or count of the whole table on every row. */
function isTotalOfTable(model: Model, table: RowsTable, node: Checked | undefined): boolean {
  if (node?.kind === 'single' && node.of === 'tally')
    return isTotalOfTable(model, table, model.columnOf(node.column).column.formula?.checked?.expression)
  if (node?.kind !== 'over-rows' || node.rows.which !== 'own') return false
  return node.by.length === 0 && (node.record.name === 'sum' || node.record.name === 'count')
}

/** The points of a chart of rows. */
export function pointsOfRows(model: Model, engine: Engine, table: RowsTable, definition: ChartDefinition): ChartData {
  const known = knownRows(model, table, definition)
  const { rows } = table.store
  const slots = known.where === null ? rows.inOrder() : engine.select(table.store, engine.compile(known.where))
  const column = (formula: CheckedFormula, name: string): QueryColumn => columnOf(model, engine, table, formula, name, slots)
  const x = column(known.x, plainName(definition.x ?? 'x'))
  const names = definition.series.map(seriesName)
  const given = columnGiven(model, known.x.expression)
  const points = arrangedPoints({
    definition,
    slots,
    x,
    sortedBy: given === undefined ? x.storage : inPlaces(x.storage, placesOf(engine, given), table),
    columns: known.series.map((formula, at) => column(formula, names[at] as string)),
  })
  return {
    definition,
    table: table.name,
    where: definition.where ?? null,
    parameters: [],
    rowCount: rows.rowCount,
    keptCount: slots.length,
    ...points,
    fit: fitOfChart(model, engine, table, definition),
  }
}

/** What a formula gives on the rows of a table, as a column. */
function columnOf(
  model: Model,
  engine: Engine,
  table: RowsTable,
  formula: CheckedFormula,
  name: string,
  slots: Int32Array,
): QueryColumn {
  const source = sourceOf(table, formula)
  if (source !== undefined) {
    const { type, properties, shownUnit: unit } = source
    const storage = engine.recalculation.storage(table.store, source.id, slots)?.fork()
    return { name, type, calculated: source.formula !== null, state: stateOf(engine, source), unit, properties, storage }
  }
  const { expression } = formula
  const properties = shownAs(model, formula)
  const type: ValueType | null = expression.type === 'blank' || expression.type === 'unknown' ? null : expression.type
  let storage: ReadonlyColumn | undefined
  if (type !== null) {
    const cells = cellsOfPlan(engine, table, engine.compile(formula), [...slots])
    storage = columnOfCells(type, table.store.rows.slotCount, (slot) => cells[slot] ?? null)
  }
  return { name, type, calculated: true, state: null, unit: properties.unit ?? null, properties, storage }
}

function sourceOf(table: RowsTable, { expression }: CheckedFormula): ColumnModel | undefined {
  return expression.kind === 'column' ? table.withId(expression.column) : undefined
}

function fitOfChart(
  model: Model,
  engine: Engine,
  table: RowsTable,
  { x = '', where, series, fit }: ChartDefinition,
): ChartData['fit'] {
  const of = series.find((one) => fit !== undefined && foldName(seriesName(one)) === foldName(fit.series))
  if (fit === undefined || of === undefined) return null
  const { degree, coefficients, residuals = false } = fit
  const curve: Fit = fitRows(model, engine, {
    table: table.name,
    x,
    y: of.formula,
    ...(where !== undefined && { where }),
    ...(degree !== undefined && { degree }),
    ...(coefficients !== undefined && { coefficients }),
  })
  return { series: seriesName(of), curve, residuals }
}
