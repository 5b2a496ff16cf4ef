/**
 * The first place from `from` up to `to` where something holds that holds at all places behind it too; `to` where it holds at none
 * (binary search: Knuth, The Art of Computer Programming 3, 6.2.1).
 */
export function firstWhere(from: number, to: number, holds: (place: number) => boolean): number {
  let [low, high] = [from, to]
  while (low < high) {
    const middle = Math.floor((low + high) / 2)
    if (holds(middle)) high = middle
    else low = middle + 1
  }
  return low
}

/**
 * The first place of ascending numbers where one not below `number` stands; with `isAbove`, one above it. For the loops that do
 * it for every row: no call a step.
 */
export function firstNumberFrom(sorted: Float64Array | Int32Array, number: number, isAbove: boolean = false): number {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    const found = sorted[middle] as number
    if (found > number || (found === number && !isAbove)) high = middle
    else low = middle + 1
  }
  return low
}
