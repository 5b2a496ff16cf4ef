import type { GroupedRows } from '../../engine/index.js'
import type { GroupedView } from '../schemas/index.js'
import type { Arrangement } from './arrangement.js'
import type { ViewColumns } from './view-columns.js'
import type { ViewNames } from './view-names.js'

/** A view while it is made. */
export interface ViewParts {
  readonly names: ViewNames
  readonly view: GroupedView
  readonly columns: ViewColumns
  readonly arrangement: Arrangement
  readonly rows: GroupedRows
}

/** The levels of groups, the whole first. */
export function levelsOf({ columns }: ViewParts): number[] {
  return Array.from({ length: columns.keys.length + 1 }, (_, level) => level)
}
