import type { Engine } from '../../engine/index.js'
import { type Checked, type ColumnId, somePart } from '../../formula/index.js'
import { Status } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'

/** How many rows of a score have all of its parts, and what is blank in the others. */
export interface Completeness {
  readonly complete: number
  readonly withBlanks: number
  /** Blanks of each part that has any, by column, the most first. */
  readonly blanks: readonly { readonly column: string; readonly rows: number }[]
}

/** The completeness of a column that takes several columns of its row together; null for one that does not. */
export function completenessOf(engine: Engine, table: TableModel, column: ColumnModel): Completeness | null {
  const expression = column.formula?.checked?.expression
  const ids = expression === undefined ? new Set<ColumnId>() : partsTogether(expression)
  const parts = table.columns.filter(({ id }) => ids.has(id))
  if (parts.length < 2) return null
  const storages = parts.map(({ id }) => engine.recalculation.storage(table.store, id))
  const blanks = parts.map(() => 0)
  let withBlanks = 0
  for (const slot of table.store.rows.inOrder()) {
    let isComplete = true
    for (const [index, storage] of storages.entries()) {
      if ((storage?.statusAt(slot) ?? Status.blank) !== Status.blank) continue
      blanks[index] = (blanks[index] as number) + 1
      isComplete = false
    }
    if (!isComplete) withBlanks++
  }
  return {
    complete: table.store.rows.rowCount - withBlanks,
    withBlanks,
    blanks: parts
      .map(({ name }, index) => ({ column: name, rows: blanks[index] as number }))
      .filter(({ rows }) => rows > 0)
      .sort((a, b) => b.rows - a.rows),
  }
}

/** The columns that functions across a row take together. */
function partsTogether(expression: Checked): Set<ColumnId> {
  const found = new Set<ColumnId>()
  somePart(expression, (part) => {
    if (part.kind === 'call' && part.record.family === 'across')
      somePart(part, (inner) => {
        if (inner.kind === 'column') found.add(inner.column)
        return false
      })
    return false
  })
  return found
}
