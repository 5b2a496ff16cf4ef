/** Points of one series beyond which not all are drawn. */
export const MOST_POINTS = 4000

/** What is reduced: points in ascending order of x, with a value of each series at each; NaN is a gap. */
interface DensePoints {
  readonly xs: Float64Array
  readonly series: readonly Float64Array[]
}

/**
 * The places of the points to be drawn so that the picture is that of all of them: of each series in each column of pixels the
 * first, the last, the smallest and the largest, and one gap where a column has nothing else.
 *
 * Source: Jugel, Jerzak, Hackenbroich, Markl, "M4: A Visualization-Oriented Time Series Data Aggregation", VLDB 2014.
 *
 * @param columns - how many columns of pixels the drawing has
 * @returns places in ascending order
 */
export function keptPlaces({ xs, series }: DensePoints, columns: number): Int32Array {
  const count = xs.length
  const first = xs[0] as number
  const span = (xs[count - 1] as number) - first
  const columnOf = (place: number): number =>
    span === 0 ? 0 : Math.min(columns - 1, Math.floor((((xs[place] as number) - first) / span) * columns))
  const isKept = new Uint8Array(count)
  for (const values of series) {
    let from = 0
    while (from < count) {
      const column = columnOf(from)
      let to = from
      while (to < count && columnOf(to) === column) to++
      keepOfColumn(values, from, to, isKept)
      from = to
    }
  }
  const places: number[] = []
  for (let place = 0; place < count; place++) if (isKept[place] === 1) places.push(place)
  return Int32Array.from(places)
}

/** Keeps of the points `from`..`to` the first, the last, the smallest and the largest that have a value. */
function keepOfColumn(values: Float64Array, from: number, to: number, isKept: Uint8Array): void {
  let [first, last, least, most] = [-1, -1, -1, -1]
  for (let place = from; place < to; place++) {
    const value = values[place] as number
    if (Number.isNaN(value)) continue
    if (first < 0) first = place
    last = place
    if (least < 0 || value < (values[least] as number)) least = place
    if (most < 0 || value > (values[most] as number)) most = place
  }
  for (const place of first < 0 ? [from] : [first, last, least, most]) isKept[place] = 1
}
