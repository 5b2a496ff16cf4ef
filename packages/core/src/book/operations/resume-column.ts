import type { Cell } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { sameCell } from '../../engine/index.js'
import { counted, namedRows, refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { type ResumeColumn, resumeColumnSchema } from '../schemas/index.js'
import { pausedSpec } from './column-spec.js'
import { defineOperation } from './define.js'

export const resumeColumn = defineOperation<ResumeColumn>({
  schema: resumeColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const { paused } = column
    if (paused === null) {
      const reason = `${printName(column.name)} is not paused.`
      throw refusal('bad-operation', { place: 'resume-column', reason }, { table: table.name, column: column.name })
    }
    const before = cellsOf(table, column)
    const type = table.store.column(column.id)?.type
    const values = type === undefined ? [] : [...before.values()].map((cell) => writeCellValue(cell, type))
    const place = { table: table.name, column: column.name }
    transaction.undoWith({ op: 'pause-column', ...place, aside: pausedSpec(paused), ...(type !== undefined && { values }) })
    column.resume()
    transaction.unbound.set(column, table)
    transaction.applied.push(operation)
    if (transaction.isUndoRedo) return
    // What is lost is known once the formula has given its values.
    if (transaction.toFlush !== 'all') transaction.toFlush.add(column.id)
    transaction.afterwards.push(() => refuseLoss(table, column, before, paused.typed, operation.discard ?? 0))
  },
})

/** The cells of a column by row id, in row order. */
function cellsOf({ store }: TableModel, { id }: ColumnModel): Map<number, Cell> {
  const storage = store.column(id)
  return new Map(Array.from(store.rows.inOrder(), (slot) => [store.rows.idOf(slot), storage?.read(slot) ?? null]))
}

function refuseLoss(
  table: TableModel,
  column: ColumnModel,
  before: ReadonlyMap<number, Cell>,
  typed: ReadonlySet<number>,
  discard: number,
): void {
  const after = cellsOf(table, column)
  const changed = [...before].filter(([id, cell]) => !sameCell(cell, after.get(id) ?? null)).map(([id]) => id)
  const lostIds = new Set(changed.filter((id) => typed.has(id)))
  const lost = lostIds.size
  if (lost <= discard) return
  const place = { table: table.name, column: column.name }
  const operation = { op: 'resume-column', ...place, discard: lost }
  const fixes = [{ title: `Resume it all the same, losing ${lost} typed by hand`, operations: [operation] }]
  const cells = counted(changed.length, 'cell')
  throw refusal(
    'hand-edits-lost',
    { name: printName(column.name), cells, typed: lost, named: `: ${namedRows(firstNumbers(before, lostIds), lost)}` },
    { ...place, rows: changed.length, fixes },
  )
}

/** Rows named in a refusal. */
const MOST_NAMED = 5

/** Numbers of the first of these rows. */
function firstNumbers(inOrder: ReadonlyMap<number, unknown>, ids: ReadonlySet<number>): number[] {
  return [...inOrder.keys()].flatMap((id, index) => (ids.has(id) ? [index + 1] : [])).slice(0, MOST_NAMED)
}
