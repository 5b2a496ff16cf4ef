import { foldName } from '../../values/index.js'
import { listIds, type Operation } from '../schemas/index.js'

/** Something that operations touch: cells, rows or definitions. */
export interface StepMark {
  /** The folded name of a table; of what belongs to no table, a name that no table has. */
  readonly table: string
  /** The folded name of a column; null for all of them. */
  readonly column: string | null
  /** Ids of rows; null for all of them. */
  readonly rows: ReadonlySet<number> | null
}

/** What operations touch, so that it can be seen whether something was touched since. Where it is not known, the whole table. */
export function marksOf(operations: readonly Operation[]): StepMark[] {
  return operations.flatMap(marksOfOne)
}

/** The first mark of some that others have touched too; undefined where there is none. */
export function firstTouched(marks: readonly StepMark[], others: readonly StepMark[]): StepMark | undefined {
  return marks.find((mark) => others.some((other) => meet(mark, other)))
}

function meet(one: StepMark, other: StepMark): boolean {
  if (one.table !== other.table) return false
  if (one.column !== null && other.column !== null && one.column !== other.column) return false
  if (one.rows === null || other.rows === null) return true
  const [few, many] = one.rows.size < other.rows.size ? [one.rows, other.rows] : [other.rows, one.rows]
  for (const row of few) if (many.has(row)) return true
  return false
}

function marksOfOne(operation: Operation): StepMark[] {
  switch (operation.op) {
    case 'set-cells': {
      const byColumn = new Map<string, Set<number>>()
      for (const { column, row } of operation.cells) {
        const rows = byColumn.get(foldName(column)) ?? new Set()
        byColumn.set(foldName(column), rows.add(row))
      }
      return [...byColumn].map(([column, rows]) => ({ table: foldName(operation.table), column, rows }))
    }
    case 'insert-rows':
      return [marked(operation.table, null, new Set(operation.ids === undefined ? [] : listIds(operation.ids)))]
    case 'remove-rows':
      return [marked(operation.table, null, new Set(listIds(operation.rows)))]
    case 'move-rows':
      return [marked(operation.table, ORDER, new Set(listIds(operation.rows)))]
    case 'stamp-cells':
      return [marked(operation.table, operation.column, new Set(listIds(operation.rows)))]
    case 'add-column':
      return [marked(operation.table, operation.column.name)]
    case 'rename-column':
      return [marked(operation.table, operation.column), marked(operation.table, operation.to)]
    case 'fill-column':
    case 'change-column':
    case 'remove-column':
    case 'move-column':
    case 'detach-column':
    case 'pause-column':
    case 'resume-column':
    case 'set-stamp':
      return [marked(operation.table, operation.column)]
    case 'set-tally':
    case 'remove-tally':
    case 'set-rule':
    case 'remove-rule':
      return [marked(`part of ${'table' in operation ? operation.table : ''}`, operation.name)]
    case 'rename-table':
      return [marked(operation.table), marked(operation.to)]
    default: {
      const { op, table, name } = operation as { op: string; table?: string; name?: string }
      return [table === undefined ? marked(`the book, ${op.replace(/^(set|remove)-/, '')}`, name ?? null) : marked(table)]
    }
  }
}

/** Stands for the order of rows among the columns. */
const ORDER = 'order of rows'

function marked(table: string, column: string | null = null, rows: ReadonlySet<number> | null = null): StepMark {
  return { table: foldName(table), column: column === null || column === ORDER ? column : foldName(column), rows }
}
