import { refusal, refuseErrors } from '../../findings/index.js'
import type { ColumnId, Plan } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import { otherThanCondition } from '../queries/index.js'
import type { GroupedView } from '../schemas/index.js'
import { checkLine } from './line-columns.js'
import { columnNamed, type ViewColumn, type ViewColumns } from './view-columns.js'
import type { ViewNames } from './view-names.js'

/** A column that the groups of a level are put in order by. */
interface LevelOrder {
  readonly level: number
  readonly by: ViewColumn
  readonly descending: boolean
}

/** In which order groups stand, and which of them, with its names found and its formula checked. */
export interface Arrangement {
  readonly orders: readonly LevelOrder[]
  readonly tops: readonly (LevelOrder & { readonly count: number })[]
  /** The condition of the innermost groups. */
  readonly having: Plan | null
}

/** Where the condition of groups stands on a sheet. */
export const HAVING = -3 as ColumnId

/**
 * Finds what a view says of the order of groups.
 *
 * @throws Refusal for unknown names, columns that depend on the order themselves, and a condition that is not true or false
 */
export function arrangementOf(names: ViewNames, view: GroupedView, columns: ViewColumns): Arrangement {
  const { order = [], top = [], having } = view
  return {
    orders: order.map(({ level, by, descending = false }) => ({
      level: levelNamed(columns, level, view),
      by: sorting(columns, by, view),
      descending,
    })),
    tops: top.map(({ level, by, count, ascending = false }) => {
      return { level: levelNamed(columns, level, view), by: sorting(columns, by, view), descending: !ascending, count }
    }),
    having: having === undefined ? null : conditionOnGroups(names, having, columns),
  }
}

/** The columns that do not depend on the order of lines. */
export function unordered({ all }: ViewColumns): ViewColumn[] {
  return all.filter(({ line }) => line?.minds !== true)
}

function conditionOnGroups(names: ViewNames, having: string, columns: ViewColumns): Plan {
  const known = [...columns.keyColumns, ...unordered(columns)]
  const checked = checkLine(names, { name: 'having', formula: having, place: 'having' }, known)
  refuseErrors(otherThanCondition(checked, { table: names.table.name, column: 'having' }))
  return names.engine.compile(checked)
}

/** The level that an option is for: that of a key, or the outermost. */
function levelNamed(columns: ViewColumns, name: string | undefined, view: GroupedView): number {
  return name === undefined ? 1 : (columnNamed(columns.keyColumns, name, view).level as number)
}

/** A column that groups can be put in order by. */
function sorting(columns: ViewColumns, name: string, view: GroupedView): ViewColumn {
  const column = columnNamed([...columns.keyColumns, ...columns.all], name, view)
  if (column.line?.minds !== true) return column
  const reason = `${printName(column.name)} depends on the order of the lines, so they cannot be put in order by it.`
  throw refusal('bad-operation', { place: 'the view, field order', reason }, { table: view.table, column: column.name })
}
