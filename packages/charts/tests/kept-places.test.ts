import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { keptPlaces } from '../src/points/kept-places.js'

/** Points that stand for many: the picture is that of all of them. */

const value = fc.oneof(
  { weight: 5, arbitrary: fc.double({ min: -1e6, max: 1e6, noNaN: true }) },
  { weight: 1, arbitrary: fc.constant(Number.NaN) },
)
const dense = fc
  .tuple(
    fc.array(fc.double({ min: 0, max: 1000, noNaN: true }), { minLength: 1, maxLength: 400 }),
    fc.integer({ min: 1, max: 40 }),
  )
  .chain(([xs, columns]) =>
    fc.record({
      xs: fc.constant(Float64Array.from(xs).sort()),
      columns: fc.constant(columns),
      series: fc.array(
        fc.array(value, { minLength: xs.length, maxLength: xs.length }).map((values) => Float64Array.from(values)),
        { minLength: 1, maxLength: 3 },
      ),
    }),
  )

/** Of each column of pixels the first, last, smallest and largest value. */
function picture(xs: Float64Array, values: Float64Array, places: Iterable<number>, columns: number): Map<number, number[]> {
  const [first = 0, last = 0] = [xs[0], xs.at(-1)]
  const found = new Map<number, number[]>()
  for (const place of places) {
    const one = values[place] as number
    if (Number.isNaN(one)) continue
    const column =
      last === first ? 0 : Math.min(columns - 1, Math.floor((((xs[place] as number) - first) / (last - first)) * columns))
    const known = found.get(column)
    if (known === undefined) found.set(column, [one, one, one, one])
    else found.set(column, [known[0] as number, one, Math.min(known[2] as number, one), Math.max(known[3] as number, one)])
  }
  return found
}

describe('kept places', () => {
  test('have in each column of pixels the first, last, smallest and largest of all', () => {
    fc.assert(
      fc.property(dense, ({ xs, series, columns }) => {
        const kept = keptPlaces({ xs, series }, columns)
        expect([...kept]).toEqual([...new Set(kept)].sort((a, b) => a - b))
        expect(kept.length).toBeLessThanOrEqual(4 * columns * series.length)
        for (const values of series) expect(picture(xs, values, kept, columns)).toEqual(picture(xs, values, xs.keys(), columns))
      }),
    )
  })

  test('keep one gap where a column has nothing else', () => {
    const xs = Float64Array.from({ length: 100 }, (_, at) => at)
    const values = Float64Array.from(xs, (x) => (x >= 40 && x < 60 ? Number.NaN : x))
    const gaps = [...keptPlaces({ xs, series: [values] }, 10)].filter((place) => Number.isNaN(values[place]))
    expect(gaps).toEqual([40, 50])
  })
})
