import { type Dialect, NoForm, numberOfFault } from '../dialects/index.js'
import { isWholeSize, type Magnitude, UNBOUNDED, WHOLE } from '../values/index.js'

/** The rows that an aggregate takes in, as columns of a select: texts. */
export interface AggregateInput {
  readonly dialect: Dialect
  readonly values: readonly string[]
  /** The numbers of errors of the values. */
  readonly faults: readonly (string | null)[]
  /** True for the rows whose condition is true; null where all rows are taken in. */
  readonly isTaken: string | null
  /** The order of the rows, and its reverse. */
  readonly order: string
  readonly reverse: string
  readonly size: Magnitude
  /** What the second argument is, where it is written out. */
  readonly second: number | string | boolean | null | undefined
}

/** What an aggregate is in a select with groups. */
export interface AggregateForm {
  readonly value: string
  /** The error that the aggregate itself makes; null where it makes none. */
  readonly fault: string | null
  readonly size: Magnitude
  readonly isApproximate: boolean
}

const form = (value: string, more: Partial<AggregateForm> = {}): AggregateForm => ({
  value,
  fault: null,
  size: UNBOUNDED,
  isApproximate: false,
  ...more,
})

/** What a sum is larger by than its parts, at most, in bits; and how large parts may be so that it is in range for certain. */
const BITS_OF_ROWS = 60
const MOST_SUMMED = 900

/** Parts of a sum beyond this are added apart, so that a sum of ordinary ones cannot end the statement. */
const LARGEST_PART = 1e290

/** The sum of numbers, and the error where it is beyond range. */
function sumForm({ dialect, values, size }: AggregateInput): AggregateForm {
  const [x] = values as [string]
  if (isWholeSize(size)) return form(dialect.wholeSum(x, ''), { size: { grain: 0, high: 100 } })
  if (size.high < MOST_SUMMED)
    return form(dialect.plainSum(x, ''), { size: { grain: size.grain, high: size.high + BITS_OF_ROWS }, isApproximate: true })
  if (!dialect.failsBeyondRange) {
    const total = dialect.plainSum(x, '')
    const value = `case when isfinite(${total}) then ${total} end`
    return form(value, {
      fault: `case when not isfinite(${total}) then ${numberOfFault('out-of-range')} end`,
      isApproximate: true,
    })
  }
  const ordinary = dialect.plainSum(x, ` filter (where abs(${x}) < ${LARGEST_PART})`)
  const great = `sum(cast(${x} as numeric)) filter (where abs(${x}) >= ${LARGEST_PART})`
  const total = `(coalesce(${great}, 0) + cast(coalesce(${ordinary}, 0) as numeric))`
  const fits = `abs(${total}) < 1.797693134862315e308`
  return form(`case when ${great} is null then ${ordinary} when ${fits} then cast(${total} as float8) end`, {
    fault: `case when ${great} is not null and not (${fits}) then ${numberOfFault('out-of-range')} end`,
    isApproximate: true,
  })
}

function meanForm(input: AggregateInput): AggregateForm {
  const sum = sumForm(input)
  const [x] = input.values as [string]
  return form(`${wrapped(sum.value)} / nullif(count(${x}), 0)`, { fault: sum.fault, isApproximate: true })
}

function medianForm({ dialect, values }: AggregateInput): AggregateForm {
  const [x] = values as [string]
  const [low, high] = [dialect.quantile(x, 'lower'), dialect.quantile(x, 'upper')]
  const halves = `${wrapped(low)} * 0.5::float8 + ${wrapped(high)} * 0.5::float8`
  const isLarge = `greatest(abs(${low}), abs(${high})) > 1e300::float8`
  return form(
    `case when ${low} = ${high} then ${low} when ${isLarge} then ${halves} else (${wrapped(low)} + ${wrapped(high)}) / 2 end`,
  )
}

/** Moments about the mean, and what follows from them: binary64 sums, so they are near what is exact. */
function momentForm(name: 'var_samp' | 'stddev_samp', { values, size }: AggregateInput): AggregateForm {
  const [x] = values as [string]
  // Squares of larger ones are beyond range.
  const limit = 1e150
  if (size.high < 490) return form(`${name}(${x})`, { isApproximate: true })
  const isLarge = `coalesce(max(abs(${x})), 0) >= ${limit}`
  const value = `case when count(${x}) >= 2 and not (${isLarge}) then ${name}(${x}) filter (where abs(${x}) < ${limit}) end`
  const fault = `case when count(${x}) >= 2 and ${isLarge} then ${numberOfFault('out-of-range')} end`
  return form(value, { fault, isApproximate: true })
}

function firstForm(isLast: boolean): (input: AggregateInput) => AggregateForm {
  return ({ dialect, values, faults, order, reverse, isTaken }) => {
    const [x] = values as [string]
    const fault = faults[0] ?? null
    const isThere = fault === null ? `${x} is not null` : `(${x} is not null or ${fault} is not null)`
    const condition = isTaken === null ? isThere : `${isTaken} and ${isThere}`
    const by = isLast ? reverse : order
    return form(dialect.firstInOrder(x, by, condition), {
      fault: fault === null ? null : dialect.firstInOrder(fault, by, condition),
    })
  }
}

function lookupForm({ dialect, values, faults, order, isTaken }: AggregateInput): AggregateForm {
  const [x] = values as [string]
  const taken = isTaken ?? 'true'
  const count = isTaken === null ? 'count(*)' : `count(*) filter (where ${isTaken})`
  const many = `when ${count} > 1 then ${numberOfFault('many-matches')}`
  const fault = faults[0] ?? null
  const rest = fault === null ? '' : ` else ${dialect.firstInOrder(fault, order, taken)}`
  return form(`case when ${count} = 1 then ${dialect.firstInOrder(x, order, taken)} end`, { fault: `case ${many}${rest} end` })
}

function truthForm(deciding: boolean): (input: AggregateInput) => AggregateForm {
  return ({ dialect, values, faults }) => {
    const [x] = values as [string]
    const decides = dialect.someTrue(deciding ? x : `not ${x}`)
    const fault = faults[0] ?? null
    const blocked = fault === null ? '' : ` when min(${fault}) is not null then null`
    const value = `case when ${decides} then ${deciding}${blocked} when count(${x}) > 0 then ${!deciding} end`
    return form(value, {
      fault: fault === null ? null : `case when coalesce(${decides}, false) then null else min(${fault}) end`,
    })
  }
}

function joinForm({ dialect, values, order, second }: AggregateInput): AggregateForm {
  const [x, separator] = values as [string, string]
  const by = dialect.name === 'duckdb' && typeof second === 'string' ? `'${second.replaceAll("'", "''")}'` : separator
  if (dialect.name === 'duckdb' && typeof second !== 'string')
    throw new NoForm('join_rows() has a form in DuckDB only where the separator is written out')
  return form(dialect.joinedTexts(`case when ${separator} is not null then ${x} end`, by, order))
}

/** A percentile between the two values next to its place. */
function percentileForm({ dialect, values, second }: AggregateInput): AggregateForm {
  const [x] = values as [string]
  if (typeof second !== 'number') throw new NoForm('percentile() has a form in SQL only where the share is written out')
  if (second < 0 || second > 1)
    return form(`cast(null as float8)`, { fault: `case when count(${x}) > 0 then ${numberOfFault('out-of-range')} end` })
  return form(dialect.percentile(x, second), { isApproximate: true })
}

/** A line through points by least squares, and how well it fits: of rows that have both values. */
function lineForm(name: 'regr_slope' | 'regr_intercept' | 'corr' | 'regr_r2'): (input: AggregateInput) => AggregateForm {
  return ({ values }) => {
    const [y, x] = values as [string, string]
    // Products of larger ones are beyond range.
    const isSmall = `abs(${x}) < 1e75 and abs(${y}) < 1e75`
    const isBoth = `${x} is not null and ${y} is not null`
    const count = `count(*) filter (where ${isBoth})`
    const same = (one: string): string => `min(${one}) filter (where ${isBoth}) = max(${one}) filter (where ${isBoth})`
    const isFlat = name === 'regr_slope' || name === 'regr_intercept' ? same(x) : `(${same(x)} or ${same(y)})`
    const isLarge = `coalesce(max(greatest(abs(${x}), abs(${y}))) filter (where ${isBoth}), 0) >= 1e75`
    // Squares of smaller distances are too near to zero.
    const isNarrow = (one: string): string => {
      const [least, most] = [`min(${one}) filter (where ${isBoth})`, `max(${one}) filter (where ${isBoth})`]
      return `(${least} < ${most} and ${most} / 2 - ${least} / 2 < 1e-150)`
    }
    const isBeyond = `(${isLarge} or ${isNarrow(x)} or ${isNarrow(y)})`
    const value = `case when ${count} > 0 and not ${isFlat} and not ${isBeyond} then ${name}(${y}, ${x}) filter (where ${isSmall}) end`
    const byZero = `when ${count} > 0 and ${isFlat} then ${numberOfFault('division-by-zero')}`
    return form(value, {
      fault: `case ${byZero} when ${count} > 0 and ${isBeyond} then ${numberOfFault('out-of-range')} end`,
      isApproximate: true,
    })
  }
}

const FORMS: Readonly<Record<string, (input: AggregateInput) => AggregateForm>> = {
  count: ({ values: [x], isTaken }) => {
    const what = x ?? '*'
    const more = x === undefined && isTaken !== null ? ` filter (where ${isTaken})` : ''
    return form(`cast(count(${what})${more} as float8)`, { size: WHOLE })
  },
  count_distinct: ({ values: [x] }) => form(`cast(count(distinct ${x}) as float8)`, { size: WHOLE }),
  sum: sumForm,
  mean: meanForm,
  median: medianForm,
  min: ({ values: [x], size }) => form(`min(${x})`, { size }),
  max: ({ values: [x], size }) => form(`max(${x})`, { size }),
  mode: ({ dialect, values: [x], size }) => form(dialect.commonest(x as string), { size }),
  variance: (input) => momentForm('var_samp', input),
  stdev: (input) => momentForm('stddev_samp', input),
  percentile: percentileForm,
  slope: lineForm('regr_slope'),
  intercept: lineForm('regr_intercept'),
  correlation: lineForm('corr'),
  r_squared: lineForm('regr_r2'),
  first: firstForm(false),
  last: firstForm(true),
  lookup: lookupForm,
  any: truthForm(true),
  all: truthForm(false),
  join_rows: joinForm,
}

/** Aggregates whose values may be errors that do not count: they say themselves which does. */
export const PICKS: ReadonlySet<string> = new Set(['first', 'last', 'lookup', 'any', 'all'])

/** Names of the aggregates that have a form. */
export const AGGREGATES_WITH_FORM: ReadonlySet<string> = new Set(Object.keys(FORMS))

/** What is needed of the values that an aggregate takes in. */
export function aggregateForm(name: string, input: AggregateInput): AggregateForm {
  const write = FORMS[name]
  if (write === undefined) throw new NoForm(`${name}() has no form in ${input.dialect.title}`)
  return write(input)
}

function wrapped(text: string): string {
  return `(${text})`
}
