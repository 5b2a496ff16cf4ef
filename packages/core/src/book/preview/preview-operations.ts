import { type Engine, rowsByBlock, WatchMarks } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { findingsOfColumn } from '../diagnostics/index.js'
import type { Model } from '../model/index.js'
import { type ShownValue, showCell } from '../model/index.js'
import type { ChangeSet, ColumnCells } from '../transaction/index.js'
import { type SampleRow, SampleRows } from './sample-rows.js'

/** What operations would do. */
export interface OperationsPreview {
  /** The change set they would give; its ids are listed, since the rows are as before again. */
  readonly change: ChangeSet
  /** The calculated columns reached, in the order they are calculated in. */
  readonly columns: readonly ColumnEffect[]
}

/** What operations would do to one calculated column. */
export interface ColumnEffect {
  readonly table: string
  readonly column: string
  /** Cells that would differ. */
  readonly changed: number
  /** At most ten rows that tell most, among those that would differ. */
  readonly rows: readonly ChangedRow[]
  /** Bytes of the whole column afterwards. */
  readonly bytes: number
  readonly findings: readonly Finding[]
}

/** A sample row with what its cell shows now; undefined where the row or the column is not there yet. */
export interface ChangedRow extends SampleRow {
  readonly before: ShownValue | undefined
}

type TryOut = <Seen>(look: (change: ChangeSet) => Seen) => Seen

/** Tries operations out twice: first for what they reach, then, with the values of now at hand, for the rows to show. */
export function previewOperations(model: Model, engine: Engine, tryOut: TryOut): OperationsPreview {
  const reached = tryOut(({ changed }) =>
    changed.map((cells) => ({ ...cells, id: idOf(model, cells), rowIds: [...cells.ids()] })),
  )
  const before = new Map(reached.map(({ id, rowIds }) => [id, valuesNow(model, engine, id, rowIds)]))
  return tryOut((change) => ({ change: listed(change), columns: effects(model, engine, change, before) }))
}

function idOf(model: Model, { table, column }: ColumnCells): ColumnId | undefined {
  return [...model.columns()].find((one) => one.table.name === table && one.column.name === column)?.column.id
}

/** Cells of some rows as they are now, for the rows that there are; null for a column that is yet to be made. */
function valuesNow(
  model: Model,
  engine: Engine,
  id: ColumnId | undefined,
  rowIds: readonly number[],
): ReadonlyMap<number, ShownValue> | null {
  if (id === undefined || !model.hasColumn(id)) return null
  const { table, column } = model.columnOf(id)
  const { rows } = table.store
  const slots = rowIds.map((row) => rows.slotOf(row))
  const storage = engine.recalculation.storage(table.store, column.id)
  const values = new Map<number, ShownValue>()
  for (const [index, slot] of slots.entries())
    if (slot !== undefined && storage !== undefined)
      values.set(rowIds[index] as number, showCell(storage.read(slot), storage.type))
  return values
}

function effects(
  model: Model,
  engine: Engine,
  { changed }: ChangeSet,
  before: ReadonlyMap<ColumnId | undefined, ReadonlyMap<number, ShownValue> | null>,
): ColumnEffect[] {
  return changed.flatMap((cells) => {
    const id = idOf(model, cells)
    const computed = id === undefined ? undefined : engine.computed(id)
    if (id === undefined || computed === undefined) return []
    const { table, column } = model.columnOf(id)
    const place = { table: table.name, column: column.name, changed: cells.rows }
    const bytes = table.store.column(id)?.byteLength() ?? 0
    // Rows that tell most are told by what the formula reads.
    if (column.isWithheld) return [{ ...place, rows: [], bytes, findings: [] }]
    const { plan, formula } = computed
    const former = before.get(id) ?? null
    const reached = new Set([...cells.ids()].flatMap((row) => table.store.rows.slotOf(row) ?? []))
    const marks = new WatchMarks(formula.watches.length)
    const sample = new SampleRows(
      plan,
      formula.text,
      id,
      former && {
        before: (slot) => former.get(table.store.rows.idOf(slot)),
        isReached: (slot) => reached.has(slot),
      },
    )
    engine.evaluate(table.store, plan, (block, result, selection) => sample.visit(block, result, selection), {
      probe: (branch, block, row) => sample.branch(branch, block, row),
      ...(formula.watches.length > 0 && { marks }),
      target: id,
      ...(former !== null && { rows: rowsByBlock(reached) }),
    })
    for (const [index, watch] of formula.watches.entries()) sample.watched(watch.code, marks.firstSlot(index))
    const shown = sample.rows(engine, table).map((row) => ({ ...row, before: former?.get(row.row) }))
    return [{ ...place, rows: shown, bytes, findings: findingsOfColumn(model, engine, { table, column }) }]
  })
}

/** The change set with everything in it that would otherwise be looked up when asked for. */
function listed(change: ChangeSet): ChangeSet {
  const fix = (all: readonly ColumnCells[]): ColumnCells[] =>
    all.map(({ table, column, rows, ids, errors }) => {
      const [list, counts] = [[...ids()], errors()]
      return Object.defineProperties(
        { table, column, rows },
        {
          ids: { value: () => list.values() },
          errors: { value: () => counts },
        },
      ) as unknown as ColumnCells
    })
  const inserted = change.inserted.map(({ table, rows, ids, calculated }) => {
    const values = calculated()
    return Object.defineProperty({ table, rows, ids: [...ids] }, 'calculated', { value: () => values }) as never
  })
  return {
    ...change,
    recalculated: fix(change.recalculated),
    changed: fix(change.changed),
    stale: fix(change.stale),
    inserted,
  }
}
