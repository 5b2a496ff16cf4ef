import { type ColumnProfile, type SessionValue, sessionValue } from '@mellow-abacus/session'
import { CellFault, type ColumnView, type ShownValue } from 'mellow-abacus'
import { exactSum } from 'mellow-abacus/display'
import { compareText } from 'mellow-abacus/storage'

/** Values listed as the commonest. */
const MOST_LISTED = 6
/** Steps from the smallest number to the largest. */
const STEPS = 24

/** What a column holds, in short. */
export function profileOf(column: ColumnView): Omit<ColumnProfile, 'revision'> {
  const { values, blanks, errors } = column.summary()
  const known = column.values().filter((cell) => cell !== null && !(cell instanceof CellFault))
  const counts = new Map<ShownValue, number>()
  for (const value of known) counts.set(value, (counts.get(value) ?? 0) + 1)
  const commonest = [...counts].filter(([, rows]) => rows > 1).sort((a, b) => b[1] - a[1])
  const isTime = column.type === 'date' || column.type === 'datetime'
  const isNumber = column.type === 'number' || column.type === 'integer'
  const sorted = isNumber ? Float64Array.from(known as number[]).sort() : null
  const [least, greatest] = sorted === null ? endsOf(known) : [sorted[0] ?? null, sorted.at(-1) ?? null]
  return {
    ...{ values, blanks, errors, different: counts.size, least, greatest },
    ...{ mean: sorted === null ? null : meanOf(sorted), median: sorted === null ? null : middleOf(sorted) },
    commonest: commonest.slice(0, MOST_LISTED).map(([value, rows]) => ({ value: sessionValue(value), rows })),
    steps: sorted !== null ? stepsOf(sorted) : isTime ? stepsOf(Float64Array.from(known, (text) => timeOf(String(text)))) : [],
  }
}

/** The first and the last of values in their order; dates are texts whose order is theirs. */
function endsOf(values: readonly ShownValue[]): [SessionValue, SessionValue] {
  let [least, greatest]: [ShownValue, ShownValue] = [values[0] ?? null, values[0] ?? null]
  for (const value of values) {
    if (isBefore(value, least)) least = value
    if (isBefore(greatest, value)) greatest = value
  }
  return [sessionValue(least), sessionValue(greatest)]
}

function isBefore(one: ShownValue, other: ShownValue): boolean {
  return typeof one === 'string' ? compareText(one, other as string) < 0 : Number(one) < Number(other)
}

function meanOf(numbers: Float64Array): number | null {
  const mean = exactSum(numbers) / numbers.length
  return Number.isFinite(mean) ? mean : null
}

function middleOf(sorted: Float64Array): number | null {
  const half = sorted.length >> 1
  if (sorted.length === 0) return null
  return sorted.length % 2 === 1 ? (sorted[half] as number) : ((sorted[half - 1] as number) + (sorted[half] as number)) / 2
}

/** How many numbers there are in each of equal steps. */
function stepsOf(numbers: Float64Array): number[] {
  let [least, greatest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (const number of numbers) {
    least = Math.min(least, number)
    greatest = Math.max(greatest, number)
  }
  const width = (greatest - least) / STEPS
  if (!(width > 0) || width === Number.POSITIVE_INFINITY) return numbers.length === 0 ? [] : [numbers.length]
  const steps = new Array<number>(STEPS).fill(0)
  for (const number of numbers) {
    const step = Math.min(STEPS - 1, Math.floor((number - least) / width))
    steps[step] = (steps[step] as number) + 1
  }
  return steps
}

/** A date or a time as milliseconds on one clock. */
function timeOf(text: string): number {
  return Date.parse(text.includes('T') ? `${text}Z` : text)
}
