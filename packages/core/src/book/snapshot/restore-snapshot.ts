import { BLOCK_ROWS, Column } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { Model, TableModel } from '../model/index.js'
import { acceptanceKey } from '../model/index.js'
import type { JournaledOperation } from '../schemas/index.js'
import type { BookSnapshot, ColumnSnapshot, SnapshotCells } from './snapshot.js'

/** The operations that make the definitions of a workbook, over tables without rows. */
export function definitionsOf({ tables, values, functions = [] }: BookSnapshot): JournaledOperation[] {
  return [
    ...functions,
    ...tables.map(({ name, columns }) => ({ op: 'add-table' as const, table: name, columns: columns.map(({ spec }) => spec) })),
    ...tables.map(({ name, properties }) => ({ op: 'change-table' as const, table: name, set: properties })),
    ...tables.flatMap(({ links }) => links),
    ...values.map(({ spec: { name, id, formula }, type }) =>
      formula === undefined
        ? { op: 'set-value' as const, name, id, value: null, ...(type !== null && { type }) }
        : { op: 'set-value' as const, name, id, formula },
    ),
    ...tables.flatMap(({ name, tallies }) =>
      tallies.map(({ spec: { type: _, formula = 'blank', ...spec } }) => ({
        op: 'set-tally' as const,
        table: name,
        ...spec,
        formula,
      })),
    ),
    ...tables.flatMap(({ rules }) => rules.map(({ rule }) => rule)),
  ]
}

/** Puts rows and cells into a workbook of which the definitions are there. */
export function restoreCells(model: Model, engine: Engine, snapshot: BookSnapshot, cells: SnapshotCells): void {
  const stale = new Map<ColumnId, readonly number[]>()
  const columnsOf = (owner: TableModel, snapshots: readonly ColumnSnapshot[]): Map<ColumnId, Column> => {
    const storages = new Map<ColumnId, Column>()
    for (const { spec, type, declared, head, marks, stale: rows } of snapshots) {
      const column = owner.column(spec.name)
      column.retype(column.type, declared)
      if (rows.length > 0) stale.set(column.id, rows)
      if (head === null || type === null) continue
      storages.set(column.id, Column.stored(type, head, cells.cells(column.id)))
      const blocks = Math.ceil(head.slotCount / BLOCK_ROWS)
      engine.computed(column.id)?.marks.restore(marks, blocks, (block) => cells.marks(column.id, block))
    }
    return storages
  }
  const singles = columnsOf(model.values, snapshot.values)
  for (const [index, { name, rows, isReordered, columns, tallies, rules }] of snapshot.tables.entries()) {
    const table = model.table(name)
    const storages = new Map([...columnsOf(table, columns), ...columnsOf(table.rules, rules)])
    table.store.restore({ ...rows, order: isReordered ? cells.order(index) : null }, storages)
    for (const [id, storage] of columnsOf(table.tallies, tallies)) singles.set(id, storage)
  }
  engine.singles.restore(engine.singles.rows.snapshot(), singles)
  for (const acceptance of snapshot.acceptances) model.acceptances.set(acceptanceKey(acceptance), acceptance)
  for (const [name, value] of snapshot.metadata) model.metadata.set(name, value)
  model.returnColumnIds(snapshot.nextColumnId)
  engine.recalculation.mode = snapshot.mode
  engine.recalculation.open(stale)
}
