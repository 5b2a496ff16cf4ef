import type { Engine } from '../../engine/index.js'
import { type Checked, type ColumnId, partsOf } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import {
  type ColumnModel,
  type ColumnProperties,
  columnsRead,
  type KeptView,
  Model,
  namesColumn,
  type TableModel,
} from '../model/index.js'
import { SeenColumn } from './seen-column.js'

/**
 * The model without some columns, for those from whom they are hidden: no name in it leads to them. Whatever is asked of it is
 * answered as if they were not there, since everything that finds names finds them in a model. Cells are those of the whole
 * model. A formula that reads one of them is left out of its column; rules, reports and charts that name one are not there.
 *
 * It is made anew when definitions change; a change of cells alone changes nothing in it.
 */
export function seenModel(whole: Model, engine: Engine, hidden: ReadonlySet<ColumnId>): Model {
  const seen = new Model(engine, whole)
  const readsHidden = (column: ColumnModel): boolean => {
    const formula = column.formula ?? column.paused?.formula
    if (formula === undefined) return false
    // What is not checked is of a column put aside whose names are not all there: no telling what it meant.
    return formula.checked === null || [...columnsRead(formula.checked, whole)].some((id) => hidden.has(id))
  }
  const show = (from: TableModel, to: TableModel): void => {
    for (const column of from.columns) {
      if (hidden.has(column.id) || (from.role === 'rules' && readsHidden(column))) continue
      const isWithheld = readsHidden(column) || (column.original !== null && hidden.has(column.original))
      const properties = seenProperties(column.properties, hidden)
      const isPlain = !isWithheld && properties === column.properties
      to.insert(isPlain ? column : new SeenColumn(column, properties, isWithheld ? seenSources(column, hidden) : null))
    }
  }
  for (const table of whole.tables) {
    const own = seen.addTable(table.name, table.store)
    show(table, own)
    show(table.tallies, own.tallies)
    show(table.rules, own.rules)
    const { label, key, parent, source } = table.properties
    const shown = (id: ColumnId | null): ColumnId | null => (id === null || hidden.has(id) ? null : id)
    own.properties = {
      label: shown(label),
      key: key?.some((id) => hidden.has(id)) === true ? null : key,
      parent: shown(parent),
      // How a file was read names its columns.
      source: table.columns.some(({ id }) => hidden.has(id)) ? null : source,
    }
  }
  show(whole.values, seen.values)
  for (const { table, link } of whole.links()) {
    if ([...link.columns, ...link.keys].some(({ id }) => hidden.has(id))) continue
    const of = (columns: readonly ColumnModel[]): ColumnModel[] => columns.map(({ id }) => seen.columnOf(id).column)
    const to = seen.table(link.to.name)
    seen.table(table.name).links.push({ ...link, columns: of(link.columns), keys: of(link.keys), to })
  }
  // A tally that is withheld has no value for groups, since how it is made is not known there.
  const withheld = seen.tables.flatMap(({ tallies }) => tallies.columns.filter((tally) => tally.isWithheld).map(({ id }) => id))
  const unseen = [...hidden, ...withheld]
  const isSeen = ({ formulas }: KeptView): boolean =>
    !formulas.some(({ checked }) => checked !== null && unseen.some((id) => namesColumn(checked, id)))
  for (const [name, report] of whole.reports) if (isSeen(report)) seen.reports.set(name, report)
  for (const [name, chart] of whole.charts) {
    const { report } = chart.definition
    if (isSeen(chart) && (report === undefined || seen.reports.has(foldName(report)))) seen.charts.set(name, chart)
  }
  return seen
}

/** The columns of the own row that a formula names and that are seen, each once. */
function seenSources(column: ColumnModel, hidden: ReadonlySet<ColumnId>): ColumnId[] {
  const found = new Set<ColumnId>()
  const visit = (node: Checked): void => {
    if (node.kind === 'over-rows' || node.kind === 'follow') return
    if (node.kind === 'column' && !hidden.has(node.column)) found.add(node.column)
    for (const part of partsOf(node)) visit(part)
  }
  const checked = column.formula?.checked
  if (checked != null) visit(checked.expression)
  return [...found]
}

/** What may be said of a column: nothing that names a hidden one, or who does not see it. */
function seenProperties(properties: ColumnProperties, hidden: ReadonlySet<ColumnId>): ColumnProperties {
  const { orderKey, stamp, hiddenFrom, ...others } = properties
  const isOrderHidden = orderKey !== undefined && hidden.has(orderKey)
  const isStampHidden = stamp?.when.some((id) => hidden.has(id)) === true
  if (hiddenFrom === undefined && !isOrderHidden && !isStampHidden) return properties
  return {
    ...others,
    ...(orderKey !== undefined && !isOrderHidden && { orderKey }),
    ...(stamp !== undefined && { stamp: { ...stamp, when: stamp.when.filter((id) => !hidden.has(id)) } }),
  }
}
