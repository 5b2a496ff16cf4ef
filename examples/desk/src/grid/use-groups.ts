import type { SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useMemo } from 'react'
import { useAnswer, useDeskBook } from '../book/use-book'
import type { TableLook } from './grid-calls'
import type { LaidOut } from './layout'
import { groupedLines, type Lines, plainLines, type RowGroup, whereUnfolded } from './lines'
import { type Total, totalFormula } from './totals'

/** Groups that rows are shown in at most: of more, a report says more. */
const MOST_GROUPS = 1_000

/** What groups make of a table: the condition of the rows that are still shown, their order, and the lines they stand in. */
export interface Grouped {
  readonly where: string
  readonly order: string
  readonly groups: readonly RowGroup[] | null
  /** Why rows are not in groups though that was asked for. */
  readonly fault: string | null
}

/** Rows with the same value in the column that `look` groups by, one group after the other, with the totals of each. */
export function useGroups(
  table: TableFacts,
  look: TableLook,
  totals: readonly { readonly column: string; readonly total: Total }[],
  calm: number,
): Grouped {
  const { session } = useDeskBook()
  const { group, where, sorts } = look
  const column = group === null ? undefined : table.columns.find(({ name }) => name === group.column)
  const tallies = totals.map((one) => ({ name: `total ${one.column}`, formula: totalFormula(one.total, one.column) }))
  const isDescending = sorts.find((sort) => sort.column === column?.name)?.descending === true
  const key = column === undefined ? null : JSON.stringify([table.name, where, column.name, isDescending, tallies, calm])
  const { answer, fault } = useAnswer(key, async () => {
    const report = await session.report({
      table: table.name,
      ...(where !== '' && { where }),
      levels: [{ name: LEVEL, key: printName(column?.name ?? '') }],
      tallies: [{ name: ROWS, formula: 'count()' }, ...tallies],
      ...(isDescending && { order: [{ by: LEVEL, descending: true }] }),
      limit: MOST_GROUPS + 1,
    })
    const at = new Map(report.columns.map(({ name }, place) => [name, place]))
    const groups = report.lines.flatMap(({ kind, rows, values }) => (kind === 'group' ? [{ rows, values }] : []))
    const read = (values: readonly SessionValue[], name: string): SessionValue => values[at.get(name) ?? -1] ?? null
    return groups.map(({ rows, values }) => ({
      ...{ key: read(values, LEVEL), rows },
      totals: new Map(totals.map((one) => [one.column, read(values, `total ${one.column}`)])),
    }))
  })
  return useMemo(() => {
    const order = sorts.map(({ column: by, descending }) => `${printName(by)}${descending ? ' desc' : ''}`)
    const isMany = answer !== null && answer.length > MOST_GROUPS
    const many = `${column?.name} has more than ${MOST_GROUPS} different values. Make a report of them, or group by another column.`
    const off = { where, order: order.join(', '), groups: null, fault: isMany ? many : fault }
    if (column === undefined || group === null || isMany || fault !== null) return off
    const name = printName(column.name)
    const isDate = column.type === 'date' || column.type === 'datetime'
    const own = order.filter((_, place) => sorts[place]?.column !== column.name)
    const folded = group.folded.map((text) => JSON.parse(text) as SessionValue)
    return {
      where: whereUnfolded(where, { name, isDate }, folded),
      order: [`${name}${isDescending ? ' desc' : ''}`, ...own].join(', '),
      groups: answer?.map((one) => ({ ...one, isFolded: group.folded.includes(JSON.stringify(one.key)) })) ?? null,
      fault: null,
    }
  }, [column, group, where, sorts, answer, fault, isDescending])
}

/** The lines of the rows that are shown. */
export function useLines(groups: readonly RowGroup[] | null, count: number): Lines {
  return useMemo(() => (groups === null ? plainLines(count) : groupedLines(groups)), [groups, count])
}

/** The totals of columns that can have one. */
export function totalsWanted(columns: readonly LaidOut[], totalOf: (one: LaidOut) => Total): { column: string; total: Total }[] {
  return columns.flatMap((one) => {
    const total = totalOf(one)
    return total === 'none' || one.column.type === null ? [] : [{ column: one.column.name, total }]
  })
}

/** Names of columns of the report, which are those of no total. */
const [LEVEL, ROWS] = ['group', 'rows']
