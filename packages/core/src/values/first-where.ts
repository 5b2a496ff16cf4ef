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
