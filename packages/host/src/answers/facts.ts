import { type BookFacts, type ColumnFacts, sessionValue, type TableFacts } from '@mellow-abacus/session'
import type { ColumnView, TableView, WorkbookView } from 'mellow-abacus'

/** What there is in a workbook, as someone has it. */
export function factsOf(view: WorkbookView): BookFacts {
  return {
    revision: view.revision,
    tables: view.tables.map((name) => tableFacts(view.table(name))),
    values: view.values.map((name) => ({ name, formula: view.valueFormula(name), value: sessionValue(view.value(name)) })),
    functions: view.functions,
    reports: view.reports.map((name) => ({ name, definition: view.reportDefinition(name) })),
    charts: view.charts.map((name) => ({ name, definition: view.chartDefinition(name) })),
  }
}

function tableFacts(table: TableView): TableFacts {
  const { label, key, parent } = table.properties
  return {
    name: table.name,
    rows: table.rowCount,
    label,
    key,
    parent,
    columns: table.columns.map((column) => columnFacts(table, column)),
    links: table.links.map((name) => ({ name, ...table.linkParts(name) })),
    tallies: table.tallies.map((name) => {
      const { type } = table.tallyFacts(name)
      return { name, type, formula: table.tallyFormula(name), value: sessionValue(table.tally(name)) }
    }),
    rules: table.rules,
  }
}

function columnFacts(table: TableView, column: ColumnView): ColumnFacts {
  const { orderKey, stamp, ...properties } = column.properties
  const nameOf = (id: number): string[] => table.columns.flatMap((one) => (one.id === id ? [one.name] : []))
  const [key] = orderKey === undefined ? [] : nameOf(orderKey)
  const state = column.isPaused ? 'paused' : stamp !== undefined ? 'stamp' : column.stale > 0 ? 'stale' : null
  return {
    name: column.name,
    type: column.type,
    unit: column.unit,
    formula: column.formula,
    withheld: column.isWithheld,
    calculated: column.isCalculated,
    state,
    properties: {
      ...properties,
      ...(key !== undefined && { orderKey: key }),
      ...(stamp !== undefined && { stamp: { ...stamp, when: stamp.when.flatMap(nameOf) } }),
    },
  }
}

/** What is defined, without what edits of cells change: what differs when definitions do. */
export function definitionsText(view: WorkbookView): string {
  return JSON.stringify([
    view.tables.map((name) => {
      const { rows: _, tallies, columns, ...table } = tableFacts(view.table(name))
      return [table, columns.map(({ state: __, ...column }) => column), tallies.map(({ value: ___, ...tally }) => tally)]
    }),
    view.values.map((name) => [name, view.valueFormula(name)]),
    view.functions,
    view.reports.map((name) => view.reportDefinition(name)),
    view.charts.map((name) => view.chartDefinition(name)),
  ])
}
