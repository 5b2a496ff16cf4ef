/** No unit below this one joins with a neighbour, except CR LF. */
const FIRST_COMBINING = 0x300
/** The platform's segmenter is quadratic in the length of its text, so it is fed this many units at a time. */
const CHUNK_UNITS = 256

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' })

function isPlain(text: string): boolean {
  for (let at = 0; at < text.length; at++) {
    const unit = text.charCodeAt(at)
    if (unit >= FIRST_COMBINING || unit === 13) return false
  }
  return true
}

/** How many user-perceived characters (extended grapheme clusters, UAX #29) a text has; linear in its length. */
export function graphemeCount(text: string): number {
  return isPlain(text) ? text.length : graphemeEnds(text).length
}

/** Where each user-perceived character ends, in UTF-16 units; linear in the text's length. */
export function graphemeEnds(text: string): number[] {
  const ends: number[] = []
  if (isPlain(text)) {
    for (let at = 1; at <= text.length; at++) ends.push(at)
    return ends
  }
  let from = 0
  let size = CHUNK_UNITS
  while (from < text.length) {
    const last = from + size >= text.length
    let start = from
    for (const { segment } of segmenter.segment(text.slice(from, from + size))) {
      // The last segment of a chunk may go on behind the cut: it is read again at the head of the next chunk.
      const end = start + segment.length
      if (end === from + size && !last) break
      ends.push(end)
      start = end
    }
    size = start === from ? size * 2 : CHUNK_UNITS
    from = start
  }
  return ends
}
