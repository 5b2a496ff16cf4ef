import { numberOfFault } from '../dialects/index.js'
import { asStored, fragment, literal, over, risky, sql, type Term } from '../terms/index.js'
import { firstFault, isWholeSize, UNBOUNDED, unlessFault, type Value, valueFrom, type Writing } from '../values/index.js'

/** The greatest part that is added as it is. */
const GREATEST_PART = literal("'1e290'::float8")

/** The sum of a frame. Parts so great that a sum of ordinary ones could end the statement are added apart, as decimals. */
export function runningSum({ dialect }: Writing, x: Value, window: Term, frame: string): Value {
  const stored = asStored(x.value)
  if (stored !== x.value && isWholeSize(x.size) && x.size.high <= dialect.bitsSummedAsStored) {
    const total = framed({ ...x, value: stored }, (value) => over`sum(${value}) over (${window} ${frame})`, window, frame)
    return { ...total, value: sql`cast(${total.value} as float8)`, size: { grain: 0, high: 80 }, isApproximate: x.isApproximate }
  }
  if (isWholeSize(x.size)) {
    const [before, after] = dialect.wholeSum('#', ' over (@)').split('#') as [string, string]
    const [middle, end] = after.split('@') as [string, string]
    const total = framed(x, (value) => over`${before}${value}${middle}${window} ${frame}${end}`, window, frame)
    return { ...total, size: { grain: 0, high: 80 }, isApproximate: x.isApproximate }
  }
  const isOrdinary = x.size.high < 900
  const parts = framed(
    x,
    (value) => {
      const filter = dialect.failsBeyondRange && !isOrdinary ? fragment` filter (where abs(${value}) < ${GREATEST_PART})` : ''
      return over`sum(${value})${filter} over (${window} ${frame})`
    },
    window,
    frame,
  )
  const size = isOrdinary ? { grain: x.size.grain, high: x.size.high + 60 } : UNBOUNDED
  const result = { ...parts, size, isApproximate: true }
  if (isOrdinary) return result
  const ofRange = literal(String(numberOfFault('out-of-range')))
  if (!dialect.failsBeyondRange) {
    const fits = dialect.isFinite(parts.value)
    const own = sql`case when not ${fits} then ${ofRange} end`
    return { ...result, value: sql`case when ${fits} then ${parts.value} end`, fault: firstFault([parts.fault, own]) }
  }
  const great = over`sum(cast(${x.value} as numeric)) filter (where abs(${x.value}) >= ${GREATEST_PART}) over (${window} ${frame})`
  const total = sql`(${great} + cast(coalesce(${parts.value}, 0) as numeric))`
  const fits = sql`abs(${total}) < 1.797693134862315e308`
  const value = sql`case when ${great} is null then ${parts.value} when ${fits} then ${risky`cast(${total} as float8)`} end`
  const own = sql`case when not (${fits}) then ${ofRange} end`
  return { ...result, value: unlessFault(parts.fault, value), fault: firstFault([parts.fault, own]) }
}

/** A window function over what a value is in a frame, with the error that hides the others there. */
export function framed(x: Value, write: (value: Term) => Term, window: Term, frame: string): Value {
  if (x.fault === null) return valueFrom(write(x.value), { size: x.size })
  const fault = over`min(${x.fault}) over (${window} ${frame})`
  return valueFrom(sql`case when ${fault} is null then ${write(x.value)} end`, { size: x.size, fault })
}
