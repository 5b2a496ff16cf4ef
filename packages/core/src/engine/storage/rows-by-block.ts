import { BLOCK_MASK, BLOCK_ROWS, BLOCK_SHIFT, rowsMarked, type Selection, selectRows } from '../../columns/index.js'

/** Rows by block. */
export type RowsByBlock = ReadonlyMap<number, Selection>

/** The slots of rows by block. */
export function* slotsOf(rows: RowsByBlock | undefined): IterableIterator<number> {
  for (const [block, { rows: list, count }] of rows ?? []) {
    const first = block << BLOCK_SHIFT
    for (let k = 0; k < count; k++) yield first + (list === null ? k : (list[k] as number))
  }
}

/** How many rows are selected. */
export function rowCountOf(rows: RowsByBlock): number {
  let count = 0
  for (const selection of rows.values()) count += selection.count
  return count
}

/** Sorts slots into blocks: for each block touched, its rows in ascending order. */
export function rowsByBlock(slots: Iterable<number>): Map<number, Selection> {
  if (slots instanceof Set && slots.size === 1) {
    const [slot] = slots as Set<number>
    return new Map([[(slot as number) >> BLOCK_SHIFT, selectRows(Uint16Array.of((slot as number) & BLOCK_MASK))]])
  }
  const lists = new Map<number, number[]>()
  for (const slot of slots) {
    const list = lists.get(slot >> BLOCK_SHIFT)
    if (list === undefined) lists.set(slot >> BLOCK_SHIFT, [slot & BLOCK_MASK])
    else list.push(slot & BLOCK_MASK)
  }
  return new Map([...lists].map(([block, rows]) => [block, selectRows(Uint16Array.from(rows).sort())]))
}

/** The rows that are in any of some lists of rows; a list that has all of them is given back as it is. */
export function uniteRows(parts: readonly ReadonlyMap<number, Selection>[]): ReadonlyMap<number, Selection> {
  let united: ReadonlyMap<number, Selection> = NO_ROWS
  let own: Map<number, Selection> | null = null
  for (const part of parts) {
    if (part.size === 0 || part === united) continue
    if (united.size === 0) {
      united = part
      continue
    }
    for (const [block, selection] of part) {
      const known = united.get(block)
      const both = known === undefined ? selection : uniteSelections([known, selection])
      if (both === known) continue
      if (own === null) own = new Map(united)
      united = own.set(block, both)
    }
  }
  return united
}

/** The rows that are in any of some selections of one block; a selection that has all of them is given back as it is. */
export function uniteSelections(selections: readonly Selection[]): Selection {
  const filled = selections.filter((one) => one.count > 0)
  if (filled.length <= 1) return filled[0] ?? EMPTY
  const whole = filled.find((one) => one.rows === null)
  if (whole !== undefined && filled.every((one) => endOf(one) <= whole.count)) return whole
  if (whole === undefined && filled.every((one) => one.count <= FEW_ROWS)) return uniteFew(filled)
  const flags = new Uint8Array(BLOCK_ROWS)
  for (const { rows, count } of filled) {
    if (rows === null) flags.fill(1, 0, count)
    else for (let k = 0; k < count; k++) flags[rows[k] as number] = 1
  }
  return rowsMarked(flags)
}

/** Few rows are merged as they are: looking at every row of the block would cost more than all the rest of a small edit. */
function uniteFew(selections: readonly Selection[]): Selection {
  let united = selections[0] as Selection
  for (let index = 1; index < selections.length; index++) united = merge(united, selections[index] as Selection)
  return united
}

/** Two ascending lists as one, each row once. */
function merge(left: Selection, right: Selection): Selection {
  const [first, second] = [left.rows as Uint16Array, right.rows as Uint16Array]
  if (left.count === 1 && right.count === 1 && first[0] === second[0]) return left
  const merged = new Uint16Array(left.count + right.count)
  let [a, b, count] = [0, 0, 0]
  while (a < left.count || b < right.count) {
    const x = a < left.count ? (first[a] as number) : BLOCK_ROWS
    const y = b < right.count ? (second[b] as number) : BLOCK_ROWS
    if (x <= y) a++
    if (y <= x) b++
    merged[count++] = Math.min(x, y)
  }
  return count === left.count ? left : selectRows(merged.subarray(0, count))
}

/** The row after the last one selected. */
function endOf({ rows, count }: Selection): number {
  return rows === null ? count : (rows[count - 1] as number) + 1
}

/** Selections of more rows than this are united by flags. */
const FEW_ROWS = 64

const EMPTY: Selection = { rows: new Uint16Array(0), count: 0 }

const NO_ROWS: RowsByBlock = new Map()
