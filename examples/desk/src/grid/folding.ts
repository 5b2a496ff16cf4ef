import type { WindowRow } from '@mellow-abacus/session'
import type { TableLook } from './grid-calls'
import type { Lines } from './lines'

/** Rows that are remembered to be folded otherwise than their level is. */
const MOST_TURNED = 500

/** What folds and unfolds rows: those of groups, or those below others. */
export interface Folding {
  /** True where there is something to fold. */
  readonly isThere: boolean
  /** True where the rows below the current row are folded away. */
  readonly isFolded: boolean
  /** Folds or unfolds the group with such a key, as JSON. */
  turnGroup(key: string): void
  /** Folds or unfolds the rows below one, and goes to it. */
  turnRow(row: WindowRow): void
  /** Folds or unfolds everything. */
  all(isOpen: boolean): void
  /**
   * Folds or unfolds the group of the current row, or the rows below it; of one that has nothing to fold, goes to the row that it
   * is below. False where there is nothing of the kind.
   */
  here(isOpen: boolean): boolean
}

/** Folding as it is with some look at a table. */
export function foldingOf({
  look,
  setLook,
  lines,
  rows,
  at,
  go,
  refuse,
}: {
  readonly look: TableLook
  setLook(look: TableLook): void
  readonly lines: Lines
  /** The rows in hand. */
  readonly rows: readonly WindowRow[]
  /** The place of the current row. */
  readonly at: number
  go(place: number): void
  refuse(why: string): void
}): Folding {
  const { group, outline } = look
  const current = rows.find(({ place }) => place === at)
  const isOutline = group === null && rows.some(({ stand }) => stand !== undefined)
  const turnGroup = (key: string): void => {
    if (group === null) return
    const { folded } = group
    const next = folded.includes(key) ? folded.filter((one) => one !== key) : [...folded, key]
    setLook({ ...look, group: { ...group, folded: next } })
  }
  const turnRow = ({ id, place, stand }: WindowRow): void => {
    if (stand === undefined || stand.below === 0) return
    const turned = outline?.turned ?? []
    const next = turned.includes(id) ? turned.filter((one) => one !== id) : [...turned, id]
    if (next.length > MOST_TURNED)
      return refuse('That is more rows folded one by one than are remembered. Fold or unfold all of them.')
    go(place)
    setLook({ ...look, outline: { ...outline, turned: next } })
  }
  const all = (isOpen: boolean): void => {
    if (group === null) {
      go(1)
      return setLook({ ...look, outline: isOpen ? {} : { levels: 1 } })
    }
    const keys = isOpen ? [] : lines.groups.map(({ key }) => JSON.stringify(key))
    setLook({ ...look, group: { ...group, folded: keys } })
  }
  return {
    isThere: group !== null || isOutline,
    isFolded: isOutline && current?.stand?.isFolded === true,
    turnGroup,
    turnRow,
    all,
    here: (isOpen) => {
      if (group !== null) {
        const inGroup = lines.groupAt(at)
        // Of a group that is folded there is no row to be at.
        if (isOpen) all(true)
        else if (inGroup !== undefined) turnGroup(JSON.stringify(inGroup.key))
        return true
      }
      const stand = isOutline ? current?.stand : undefined
      if (current === undefined || stand === undefined) return false
      const above = rows.findLast((one) => one.place < at && (one.stand?.depth ?? 0) < stand.depth)
      if (stand.below > 0 && stand.isFolded === isOpen) turnRow(current)
      else if (!isOpen && above !== undefined) go(above.place)
      return true
    },
  }
}
