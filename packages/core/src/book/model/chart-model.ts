import type { CheckedFormula } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { ChartDefinition, ChartSeries, SetChart } from '../schemas/index.js'
import type { ColumnFormula, ColumnModel } from './column-model.js'
import { renamingEdits, rewriteFormula } from './rewrite-formula.js'
import type { RowsTable } from './table-model.js'

/** A column of a report that has another name. */
export interface RenamedColumn {
  readonly report: string
  readonly former: string
  readonly name: string
}

/** A chart that is kept. Its formulas follow renaming, and so do the names that it takes from a report. */
export class ChartModel {
  readonly kind = 'chart'
  readonly name: string
  /** The table whose rows it draws; null where it draws a report. */
  readonly table: RowsTable | null
  /** What it is made from but for the texts of its formulas, which are kept beside. */
  #definition: ChartDefinition
  readonly #formulas: Map<string, ColumnFormula> = new Map()

  constructor(name: string, table: RowsTable | null, definition: ChartDefinition) {
    this.name = name.normalize('NFC')
    this.table = table
    this.#definition = definition
    if (table !== null)
      eachChartFormula(definition, (text, place) => {
        this.#formulas.set(place, { text, checked: null })
        return text
      })
  }

  /** The chart as it is now. */
  get definition(): ChartDefinition {
    if (this.table === null) return this.#definition
    const texts = eachChartFormula(this.#definition, (text, place) => this.#formulas.get(place)?.text ?? text)
    return { ...texts, table: this.table.name }
  }

  /** The operation that makes it as it is. */
  get operation(): SetChart {
    return { op: 'set-chart', name: this.name, chart: this.definition } as SetChart
  }

  /** Its formulas; none where it draws a report, whose columns it names. */
  get formulas(): readonly ColumnFormula[] {
    return [...this.#formulas.values()]
  }

  /** True for a chart of a report. */
  draws(report: string): boolean {
    const { report: own } = this.#definition
    return own !== undefined && foldName(own) === foldName(report)
  }

  /** Takes what checking its formulas gave. */
  takeChecked(checked: ReadonlyMap<string, CheckedFormula>): void {
    for (const [place, formula] of this.#formulas) formula.checked = checked.get(place) ?? null
  }

  /** Follows a column that was renamed. No view stands on a chart, so no column of one has another name by it. */
  renameColumn(column: ColumnModel): RenamedColumn[] {
    const before = this.definition.series.map(seriesName)
    for (const formula of this.#formulas.values()) rewriteFormula(formula, renamingEdits(formula, column.id, column.name))
    const after = this.definition.series.map(seriesName)
    this.#nameSeries((name) => after[before.findIndex((one) => foldName(one) === foldName(name))] ?? name)
    return []
  }

  /** Follows columns of reports that have other names. */
  followReports(all: readonly RenamedColumn[]): void {
    const renamed = all.filter(({ report }) => this.draws(report))
    if (renamed.length === 0) return
    const now = (name: string): string => renamed.find(({ former }) => foldName(former) === foldName(name))?.name ?? name
    const { x, level, series, ...others } = this.#definition
    const unnamed = new Set(series.filter(({ name }) => name === undefined).map(({ formula }) => foldName(formula)))
    this.#definition = {
      ...others,
      ...(x !== undefined && { x: now(x) }),
      ...(level !== undefined && { level: now(level) }),
      series: series.map((one) => ({ ...one, formula: now(one.formula) })),
    }
    this.#nameSeries((name) => (unnamed.has(foldName(name)) ? now(name) : name))
  }

  /** Lets the order and the fit name series as they are called now. */
  #nameSeries(now: (name: string) => string): void {
    const { order, fit } = this.#definition
    this.#definition = {
      ...this.#definition,
      ...(order !== undefined && { order: { ...order, by: now(order.by) } }),
      ...(fit !== undefined && { fit: { ...fit, series: now(fit.series) } }),
    }
  }
}

/** What a series is called. */
export function seriesName({ name, formula }: ChartSeries): string {
  return name ?? plainName(formula)
}

/** The name that a formula is, without its quotes; any other formula as it stands. */
export function plainName(formula: string): string {
  return formula.trim().replace(/^`([^`]*)`$/, '$1')
}

/** The definition of a chart of rows with each of its formulas put through a function, which is told where it stands. */
function eachChartFormula(definition: ChartDefinition, of: (text: string, place: string) => string): ChartDefinition {
  const { where, x, series } = definition
  return {
    ...definition,
    ...(where !== undefined && { where: of(where, 'where') }),
    ...(x !== undefined && { x: of(x, 'x') }),
    series: series.map((one, at) => ({ ...one, formula: of(one.formula, `series ${at}`) })),
  }
}
