/**
 * The candidate nearest to a mistyped name, or undefined when none is near.
 * Distance: optimal string alignment (insert, delete, replace, swap of neighbours), at most a third of the name's length; else one
 * that begins with it.
 */
export function nearestName(name: string, candidates: Iterable<string>): string | undefined {
  const names = [...candidates]
  return nearBySpelling(name.toLowerCase(), names) ?? beginningAlike(name.toLowerCase(), names)
}

/** The shortest name that begins with what was written, as `honey_kg` with `honey`. */
function beginningAlike(sought: string, names: readonly string[]): string | undefined {
  if (sought.length < SHORTEST_BEGINNING) return undefined
  const found = names.filter((one) => one.toLowerCase().startsWith(sought))
  return found.sort((a, b) => a.length - b.length)[0]
}

/** Fewer letters begin too many names. */
const SHORTEST_BEGINNING = 3

function nearBySpelling(sought: string, candidates: readonly string[]): string | undefined {
  if (sought.length > LONGEST) return undefined
  let best: string | undefined
  // One letter is near to everything, so it is near to nothing.
  let bestDistance = sought.length < 2 ? 0 : Math.max(1, Math.floor(sought.length / 3)) + 1
  for (const candidate of candidates) {
    if (Math.abs(candidate.length - sought.length) >= bestDistance || candidate.length > LONGEST) continue
    const distance = alignmentDistance(sought, candidate.toLowerCase())
    if (distance < bestDistance) {
      best = candidate
      bestDistance = distance
    }
  }
  return best
}

/** Longer names are not compared: the distance costs the product of both lengths. */
const LONGEST = 100

function alignmentDistance(left: string, right: string): number {
  let beforeLast: number[] = []
  let last = Array.from({ length: right.length + 1 }, (_, index) => index)
  for (let i = 1; i <= left.length; i++) {
    const row = [i]
    for (let j = 1; j <= right.length; j++) {
      const same = left[i - 1] === right[j - 1]
      let cost = Math.min((last[j] as number) + 1, (row[j - 1] as number) + 1, (last[j - 1] as number) + (same ? 0 : 1))
      if (i > 1 && j > 1 && left[i - 1] === right[j - 2] && left[i - 2] === right[j - 1]) {
        cost = Math.min(cost, (beforeLast[j - 2] as number) + 1)
      }
      row.push(cost)
    }
    beforeLast = last
    last = row
  }
  return last[right.length] as number
}
