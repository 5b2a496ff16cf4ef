import type { Cell } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { CellFault, type ValueType } from '../../values/index.js'
import { showCell } from '../model/index.js'
import { columnGiven, placesOf } from '../queries/index.js'
import { compareGroups, placeOf } from './group-tree.js'
import type { ViewParts } from './view-parts.js'

/** Most values of a key that become columns. */
const MOST_ACROSS = 200

/** One value of the key that goes across: its group of all rows, and by level its groups by the group around them. */
export interface AcrossGroups {
  readonly value: number
  readonly levels: readonly Map<number, number>[]
}

/** A value of the key that goes across. */
interface AcrossValue {
  /** What its columns begin with. */
  readonly name: string
  readonly groups: AcrossGroups
}

/**
 * The values of the key that goes across, in their order.
 *
 * @throws Refusal where they are too many
 */
export function valuesAcross({ names: { engine, model, table }, columns, rows }: ViewParts): AcrossValue[] {
  const given = columns.across === null ? undefined : columnGiven(model, columns.across.expression)
  const places = given === undefined ? null : placesOf(engine, given)
  const ofWhole = rows.acrossOf(0)
  const sorted = Array.from(rows.groupsOf(ofWhole), (group) => {
    const key = rows.keyOf(ofWhole, group)
    return { group, key, sortKey: placeOf(key, places) }
  }).sort(compareGroups)
  if (sorted.length > MOST_ACROSS) {
    const reason = `the key has ${sorted.length} values; at most ${MOST_ACROSS} can be columns.`
    throw refusal('bad-operation', { place: 'the view, field across', reason }, { table: table.name })
  }
  const partsOf = new Map(sorted.map(({ group }) => [group, columns.keys.map(() => new Map()).concat(new Map())]))
  for (let level = 0; level <= columns.keys.length; level++) {
    const divided = rows.acrossOf(level)
    for (const group of rows.groupsOf(divided)) {
      const value = rows.groupOf(ofWhole, rows.rowOf(divided, group))
      partsOf.get(value)?.[level]?.set(rows.outerOf(divided, group), group)
    }
  }
  return sorted.map(({ group, key }) => {
    const levels: readonly Map<number, number>[] = partsOf.get(group) ?? []
    return { name: nameAcross(key, rows.typeOf(ofWhole)), groups: { value: group, levels } }
  })
}

/** A value as it is written in the name of a column. */
function nameAcross(key: Cell, type: ValueType): string {
  if (key === null) return '(blank)'
  return key instanceof CellFault ? key.code : String(showCell(key, type))
}
