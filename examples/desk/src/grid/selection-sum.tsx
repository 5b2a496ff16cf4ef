import type { BookSession, ColumnFacts, RowsToShow, SessionCells, SessionValue, WindowRow } from '@mellow-abacus/session'
import { displayNumber, exactSum, printName } from 'mellow-abacus/display'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { counted, countedOf, isNumeric } from '../look/cell-text'
import type { Range } from './ranges'

/** Rows of a part of a table that are fetched to be added up. */
const MOST_FETCHED = 10_000

/** What several cells that are picked add up to: their sum, mean and count. */
export function SelectionSum({
  shown,
  range,
  picked,
  rows,
  count,
}: {
  shown: RowsToShow
  range: Range
  /** The columns that are picked. */
  picked: readonly ColumnFacts[]
  /** Rows in hand, of how many there are. */
  rows: readonly WindowRow[]
  count: number
}) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const columns = picked.map(({ name }) => name)
  // Kilograms and frames add up to nothing.
  const units = new Set(picked.filter(isNumeric).map(({ unit }) => unit))
  const many = range.bottom - range.top + 1
  const isPart = many * columns.length > 1
  const own = rows.filter(({ place }) => place >= range.top && place <= range.bottom)
  const inHand = own.length === many && columns.every((name) => own.every(({ cells }) => Object.hasOwn(cells, name)))
  // Of rows that are folded away nothing is picked.
  const isWhole = many === count && shown.outline === undefined
  const key = JSON.stringify([shown, range, columns, revision])
  const { answer } = useAnswer(isPart && !inHand && (isWhole || many <= MOST_FETCHED) ? key : null, async () => {
    if (isWhole) return { key, added: await addedAll(session, shown, picked) }
    const window = await session.watch({ ...shown, columns, from: range.top, to: range.bottom + 1 })
    const fetched = window.current.rows.map((row) => row.cells)
    window()
    return { key, added: addedUp(fetched, columns) }
  })
  if (!isPart) return null
  const added = inHand
    ? addedUp(
        own.map(({ cells }) => cells),
        columns,
      )
    : answer?.key === key
      ? answer.added
      : null
  return (
    <p className="selection-sum" role="status">
      {counted(many)} × {counted(columns.length)}
      {added !== null && textOf(added, units.size === 1)}
    </p>
  )
}

interface Added {
  /** How many numbers there are, and what they add up to. */
  readonly numbers: number
  readonly sum: number
  /** How many cells hold a value. */
  readonly values: number
}

function textOf({ numbers, sum, values }: Added, isOfOneUnit: boolean): string {
  const sums =
    numbers === 0 || !isOfOneUnit
      ? ''
      : ` · sum ${displayNumber(sum)} · mean ${displayNumber(Number((sum / numbers).toPrecision(6)))}`
  return `${sums} · ${countedOf(values, 'value')}`
}

/** What cells add up to. */
function addedUp(rows: readonly SessionCells[], columns: readonly string[]): Added {
  const values = rows.flatMap((cells) => columns.map((name): SessionValue => cells[name] ?? null))
  const numbers = values.filter((value) => typeof value === 'number')
  return {
    ...{ numbers: numbers.length, sum: exactSum(numbers) },
    values: values.filter((value) => value !== null && typeof value !== 'object').length,
  }
}

/** What whole columns add up to, as the one says who holds them. */
async function addedAll(session: BookSession, { table, where }: RowsToShow, picked: readonly ColumnFacts[]): Promise<Added> {
  const tallies = picked.flatMap((column, at) => {
    if (column.type === null) return []
    const name = printName(column.name)
    const good = `${name} where not (${name} is error)`
    const sum = isNumeric(column) ? [{ name: `sum ${at}`, formula: `sum(${good})` }] : []
    return [{ name: `count ${at}`, formula: `count(${good})` }, ...sum]
  })
  if (tallies.length === 0) return { numbers: 0, sum: 0, values: 0 }
  const report = await session.report({ table, ...(where !== undefined && { where }), tallies })
  const whole = report.lines.find(({ kind }) => kind === 'whole')?.values ?? []
  const at = new Map(report.columns.map(({ name }, place) => [name, whole[place]]))
  const counts = picked.map((_, place) => Number(at.get(`count ${place}`) ?? 0))
  const summed = picked.flatMap((column, place) => (isNumeric(column) ? [place] : []))
  return {
    numbers: summed.reduce((sum, place) => sum + (counts[place] as number), 0),
    sum: exactSum(summed.map((place) => Number(at.get(`sum ${place}`) ?? 0))),
    values: counts.reduce((sum, one) => sum + one, 0),
  }
}
