import { type Cell, makeVector, type Vector } from '../columns/index.js'
import { putCell } from '../engine/index.js'
import { CellFault, storageKindOf, type ValueType } from '../values/index.js'
import { Level, Program, type Sheet } from './program.js'
import { recordNamed, resultOf } from './records.js'
import type { Source, Task } from './task.js'

/** Functions of all rows of a group, with what they take and what they add to a program. */
const TOTALS = [
  { name: 'sum', cost: 1.6 },
  { name: 'mean', cost: 1.7 },
  { name: 'max', cost: 1.8 },
  { name: 'min', cost: 1.8 },
  { name: 'median', cost: 2.2 },
  { name: 'count', cost: 2.1 },
  { name: 'count_distinct', cost: 2.4 },
  { name: 'share', cost: 1.6 },
  { name: 'first', cost: 2.3 },
  { name: 'last', cost: 2.3 },
] as const
/** Functions of the rows before and after, in row order. */
const ORDERED = [
  { name: 'lag', cost: 1.5 },
  { name: 'lead', cost: 1.8 },
  { name: 'difference', cost: 1.5 },
  { name: 'cumulative_sum', cost: 1.6 },
  { name: 'cumulative_count', cost: 2.2 },
  { name: 'cumulative_mean', cost: 2.2 },
  { name: 'cumulative_max', cost: 3 },
  { name: 'cumulative_min', cost: 3 },
  { name: 'rank', cost: 1.7 },
  { name: 'dense_rank', cost: 2 },
] as const
const COST_OF_GROUP = 0.5
/** Most cells that are gathered for one search: larger tables are searched for fewer functions, very large ones for none. */
const MOST_CELLS = 400_000

/** Which rows are taken together: all, or those that have the same value in a column. */
interface Grouping {
  readonly clause: string
  readonly cost: number
  /** The group of each row. */
  readonly groupOf: (row: number) => number
  /** The rows of each group, in row order. */
  readonly rows: readonly (readonly number[])[]
}

/**
 * What rows have from other rows of their table: totals of all rows and of their group, shares of them, the rows before, sums so
 * far, places in an order. All are computed by the functions themselves.
 *
 * @param wants - true for types of results that are of use
 */
export function fromOtherRows(task: Task, wants: (type: ValueType) => boolean): Program[] {
  const own = task.sources.filter(({ isOwn }) => isOwn)
  const found: Program[] = []
  let left = MOST_CELLS
  const take = (cells: number): boolean => {
    left -= cells
    return left >= 0
  }
  if (!take(task.rowCount)) return []
  const groupings = [everything(task)]
  for (const source of own) {
    const grouping = take(task.rowCount) ? groupedBy(task, source) : null
    if (grouping !== null) groupings.push(grouping)
  }
  if (wants('number'))
    for (const grouping of groupings) {
      if (grouping.clause !== '' && take(task.rowCount)) found.push(totalOf(task, 'count', 1.3, null, grouping))
      if (take(task.rowCount)) found.push(inOrder(task, 'row_number', 3, null, grouping))
    }
  // What is wanted most often is looked at first, as long as there are cells left to look at.
  for (const one of [...TOTALS, ...ORDERED].sort((a, b) => a.cost - b.cost))
    for (const source of own)
      for (const grouping of groupings) {
        const { type, text } = source.program
        if (grouping.clause.includes(` ${text}`) || !takes(one.name, type) || !wants(resultOf(recordNamed(one.name), type)))
          continue
        if ((one.name.endsWith('rank') && type === 'text') || !take(2 * task.rowCount)) continue
        if (isTotal(one)) found.push(totalOf(task, one.name, one.cost, source, grouping))
        else found.push(inOrder(task, one.name, one.cost, source, grouping))
        if (one.name.endsWith('rank')) found.push(inOrder(task, one.name, one.cost + 0.1, source, grouping, true))
      }
  return found
}

/** True for functions of all rows of a group. */
function isTotal({ name }: { readonly name: string }): boolean {
  return TOTALS.some((total) => total.name === name)
}

/** True when a function takes values of a type. */
function takes(name: string, type: ValueType): boolean {
  const wanted = recordNamed(name).parameters[0]?.types ?? []
  const kind = type === 'integer' ? 'number' : type
  return wanted.some((one) => one === kind || one === 'any' || one === 'T' || (one === 'ordered' && kind !== 'boolean'))
}

function everything({ rowCount }: Task): Grouping {
  return { clause: '', cost: 0, groupOf: () => 0, rows: [Array.from({ length: rowCount }, (_, row) => row)] }
}

/** Rows by the values of a column; null where that says nothing: all alike, all different. */
function groupedBy(task: Task, { program, everyCell }: Source): Grouping | null {
  if (program.type === 'number' || program.type === 'datetime') return null
  const groups = new Map<Cell, number>()
  const of = new Int32Array(task.rowCount)
  const rows: number[][] = []
  for (const [row, cell] of everyCell().entries()) {
    if (cell instanceof CellFault) return null
    let group = groups.get(cell)
    if (group === undefined) {
      group = groups.size
      groups.set(cell, group)
      rows.push([])
    }
    of[row] = group
    rows[group]?.push(row)
  }
  if (groups.size < 2 || groups.size === task.rowCount) return null
  return { clause: ` by ${program.text}`, cost: COST_OF_GROUP + program.cost * 0.4, groupOf: (row) => of[row] as number, rows }
}

/** A function of all rows of the group. */
function totalOf(task: Task, name: string, cost: number, source: Source | null, grouping: Grouping): Program {
  const record = recordNamed(name)
  const type = resultOf(recordNamed(name), source?.program.type ?? 'number')
  const kept = new Map<number, Cell>()
  const cellOf = (row: number): Cell => {
    const group = grouping.groupOf(row)
    const cells = source?.everyCell() ?? []
    const rows = grouping.rows[group] ?? []
    let total = kept.get(group)
    if (total === undefined) {
      if (record.form !== 'aggregate') throw new TypeError(`${name} is not computed from rows`)
      total = record.gather({
        args: source === null ? [] : [rows.map((one) => cells[one] ?? null)],
        ...{ types: source === null ? [] : [source.program.type], count: rows.length },
      })
      kept.set(group, total)
    }
    if (!(record.form === 'aggregate' && record.isShare)) return total
    const own = cells[row] ?? null
    return typeof own !== 'number' || typeof total !== 'number' || total === 0
      ? own instanceof CellFault
        ? own
        : null
      : own / total
  }
  return placed(
    task,
    `${name}(${source?.program.text ?? ''}${source === null ? grouping.clause.trimStart() : grouping.clause})`,
    type,
    cost + (source?.program.cost ?? 0) + grouping.cost,
    cellOf,
  )
}

/** A function of neighbouring rows of the group. */
function inOrder(
  task: Task,
  name: string,
  cost: number,
  source: Source | null,
  grouping: Grouping,
  isDescending = false,
): Program {
  const record = recordNamed(name)
  const type = resultOf(recordNamed(name), source?.program.type ?? 'number')
  const results = new Map<number, ReadonlyMap<number, Cell>>()
  const cellOf = (row: number): Cell => {
    const group = grouping.groupOf(row)
    let known = results.get(group)
    if (known === undefined) {
      if (record.form !== 'ordered') throw new TypeError(`${name} is not computed in an order`)
      const cells = source?.everyCell() ?? []
      const isRank = record.parameters.length > 0 && name.endsWith('rank')
      const rows = isRank ? ordered(grouping.rows[group] ?? [], cells, isDescending) : (grouping.rows[group] ?? [])
      const found = record.inOrder({
        args: source === null ? [] : [rows.map((one) => cells[one] ?? null)],
        ...{ types: source === null ? [] : [source.program.type], count: rows.length },
      })
      known = new Map(rows.map((one, at) => [one, found[at] ?? null]))
      results.set(group, known)
    }
    return known.get(row) ?? null
  }
  const own = source?.program.text ?? ''
  const inside = source === null ? grouping.clause.trimStart() : `${own}${isDescending ? ' desc' : ''}${grouping.clause}`
  return placed(task, `${name}(${inside})`, type, cost + (source?.program.cost ?? 0) + grouping.cost, cellOf)
}

/** Rows in the order of their cells, equal ones as they stand; blanks and errors are left where ranks leave them out. */
function ordered(rows: readonly number[], cells: readonly Cell[], isDescending: boolean): number[] {
  const side = isDescending ? -1 : 1
  const keyed = rows.filter((row) => cells[row] !== null && !(cells[row] instanceof CellFault))
  return keyed.sort((a, b) => {
    const [one, other] = [cells[a] as number, cells[b] as number]
    return one < other ? -side : one > other ? side : 0
  })
}

/** A program whose values are found by the places of rows. */
function placed(
  { places, otherPlaces }: Task,
  text: string,
  type: ValueType,
  cost: number,
  cellOf: (row: number) => Cell,
): Program {
  return new Program({
    ...{ text, type, cost, level: Level.whole, isOfOtherRows: true },
    compute: (sheet: Sheet): Vector => {
      const out = makeVector(storageKindOf(type), sheet.count)
      for (const [at, row] of (sheet.index === 0 ? places : otherPlaces).entries()) putCell(out, at, cellOf(row))
      return out
    },
  })
}
