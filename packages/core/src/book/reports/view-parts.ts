import type { GroupedRows } from '../../engine/index.js'
import type { KnownView } from './check-view.js'

/** A view while it is made. */
export interface ViewParts extends KnownView {
  readonly rows: GroupedRows
}

/** The levels of groups, the whole first. */
export function levelsOf({ columns }: ViewParts): number[] {
  return Array.from({ length: columns.keys.length + 1 }, (_, level) => level)
}
