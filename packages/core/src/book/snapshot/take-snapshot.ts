import { type Engine, slotsOf } from '../../engine/index.js'
import type { FindingLedger } from '../diagnostics/index.js'
import type { ColumnModel, Model, RowsTable, TableModel } from '../model/index.js'
import { ruleOperation, specOf, tableSpec } from '../operations/index.js'
import type { ColumnSnapshot, TableSnapshot, TakenSnapshot, UnsavedColumn } from './snapshot.js'

/** A workbook as a file keeps it; of its cells what has changed since it was last written. */
export function takeSnapshot(model: Model, engine: Engine, ledger: FindingLedger, revision: number): TakenSnapshot {
  const columnSnapshot = (table: TableModel, column: ColumnModel): ColumnSnapshot => ({
    spec: specOf(table, column),
    type: column.type,
    declared: column.declared,
    head: table.store.column(column.id)?.head(table.store.rows.slotCount) ?? null,
    marks: engine.computed(column.id)?.marks.counts ?? [],
    stale: staleSlots(engine, column),
  })
  const orders = new Map<number, Int32Array>()
  const tableSnapshot = (table: RowsTable, index: number): TableSnapshot => {
    const { order, ...rows } = table.store.rows.snapshot()
    if (order !== null) orders.set(index, order)
    return {
      name: table.name,
      properties: tableSpec(table),
      rows,
      isReordered: order !== null,
      columns: table.columns.map((column) => columnSnapshot(table, column)),
      tallies: table.tallies.columns.map((tally) => columnSnapshot(table.tallies, tally)),
      rules: table.rules.columns.map((rule) => ({
        ...columnSnapshot(table.rules, rule),
        rule: ruleOperation(table, rule),
      })),
      links: table.links.map(({ id, name, columns, to, keys }) => {
        const names = (list: readonly ColumnModel[]): string[] => list.map((column) => column.name)
        return { op: 'add-link', table: table.name, columns: names(columns), to: to.name, keys: names(keys), name, id }
      }),
    }
  }
  const owned = [...model.columns()]
  const views = [...Array.from(model.views(), ({ operation }) => operation), ...model.carriedViews]
  const snapshot = {
    revision,
    mode: engine.recalculation.mode,
    surroundings: engine.surroundings,
    nextColumnId: model.nextColumnId,
    tables: model.tables.map(tableSnapshot),
    values: model.values.columns.map((column) => columnSnapshot(model.values, column)),
    functions: Array.from(model.functions.all.values(), ({ operation }) => operation),
    acceptances: [...model.acceptances.values()],
    reports: views.filter((one) => one.op === 'set-report'),
    charts: views.filter((one) => one.op === 'set-chart'),
    metadata: [...model.metadata],
    findings: ledger.snapshot(),
  }
  return {
    snapshot,
    orders,
    columns: new Set(owned.map(({ column }) => column.id)),
    unsaved: owned.flatMap(({ table, column }) => unsavedOf(engine, table, column)),
    markSaved: () => {
      for (const { table, column } of owned) {
        table.store.column(column.id)?.written.markSaved()
        engine.computed(column.id)?.marks.markSaved()
      }
    },
  }
}

function unsavedOf(engine: Engine, table: TableModel, column: ColumnModel): UnsavedColumn[] {
  const storage = table.store.column(column.id)
  if (storage === undefined) return []
  const watched = engine.computed(column.id)?.marks
  const [chunks, marks] = [storage.written.unsaved(), watched?.unsaved() ?? []]
  const [replacesCells, replacesMarks] = [!storage.written.isSaved, watched?.isSaved === false]
  if (chunks.length + marks.length === 0 && !replacesCells && !replacesMarks) return []
  return [{ column: column.id, replacesCells, replacesMarks, chunks, side: storage.written.side(), marks }]
}

function staleSlots(engine: Engine, column: ColumnModel): number[] {
  return [...slotsOf(engine.recalculation.staleRowsOf(column.id))]
}
