import type { NumberStatistics } from '../../columns/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import type { CheckedFormula, ColumnId, ColumnUses } from '../../formula/index.js'
import { displayScalar, printName } from '../../values/index.js'
import type { TableModel } from '../model/index.js'

/** Parts of a score whose ranges differ by more than this are on unlike scales. */
const MOST_TIMES_WIDER = 4
/** Zeros are taken for missing values only where they are the exception: at most this share of all values. */
const MOST_ZEROS = 0.2

/** What the sizes of the columns that a formula adds up or weighs show. */
export function statisticsFindings(table: TableModel, formula: CheckedFormula): Finding[] {
  if (formula.uses.measures.length === 0 && formula.uses.scores.length === 0) return []
  const statisticsOf = (column: ColumnId): NumberStatistics | undefined => table.store.column(column)?.numberStatistics()
  return [...zeroFindings(table, formula, statisticsOf), ...scaleFindings(table, formula.uses, statisticsOf)]
}

type StatisticsOf = (column: ColumnId) => NumberStatistics | undefined

/** Zeros of a source column that stand further from all other values than these from each other. */
function zeroFindings(table: TableModel, { uses, references }: CheckedFormula, statisticsOf: StatisticsOf): Finding[] {
  const { measures } = uses
  return measures.flatMap(({ column: id, from, to }, index) => {
    const column = table.withId(id)
    const statistics = column === undefined || column.formula !== null ? undefined : statisticsOf(id)
    if (column === undefined || statistics === undefined || !hasZerosApart(statistics)) return []
    // Told once, where it is used first.
    if (measures.findIndex((use) => use.column === id) !== index) return []
    const name = printName(column.name)
    const rows = statistics.zeros
    const lowest = displayScalar(statistics.lowestOther, 'number')
    const highest = displayScalar(statistics.highestOther, 'number')
    const places = measures.filter((use) => use.column === id)
    const edits = places.map((use) => ({ from: use.from, to: use.to, insert: `blank_if(${name}, 0)` }))
    // What a tag takes in is not written in the formula, so it cannot be rewritten there.
    const isWritten = places.every((use) => references.some((one) => one.from === use.from && one.to === use.to))
    const fixes = isWritten ? [{ title: `Take 0 in ${name} as missing`, edits }] : []
    const count = counted(rows, 'value')
    return [finding('zero-apart', { count, name, lowest, highest }, { from, to, rows, fixes })]
  })
}

function hasZerosApart({ values, zeros, lowestOther, highestOther }: NumberStatistics): boolean {
  if (zeros === 0 || zeros > values * MOST_ZEROS || lowestOther >= highestOther) return false
  const nearest = lowestOther > 0 ? lowestOther : -highestOther
  return nearest > highestOther - lowestOther
}

function scaleFindings(table: TableModel, { scores }: ColumnUses, statisticsOf: StatisticsOf): Finding[] {
  return scores.flatMap(({ parts, from, to }) => {
    const ranges = parts.flatMap(({ column }) => {
      const statistics = statisticsOf(column)
      const range = statistics === undefined ? 0 : statistics.highest - statistics.lowest
      return range > 0 && Number.isFinite(range) ? [{ column, range }] : []
    })
    const [first] = ranges
    if (first === undefined) return []
    const wide = ranges.reduce((most, one) => (one.range > most.range ? one : most), first)
    const narrow = ranges.reduce((least, one) => (one.range < least.range ? one : least), first)
    if (!(wide.range > narrow.range * MOST_TIMES_WIDER)) return []
    const nameOf = (id: ColumnId): string => printName(table.withId(id)?.name ?? '')
    const values = {
      wide: nameOf(wide.column),
      most: displayScalar(wide.range, 'number'),
      narrow: nameOf(narrow.column),
      least: displayScalar(narrow.range, 'number'),
    }
    return [finding('unlike-scales', values, { from, to })]
  })
}
