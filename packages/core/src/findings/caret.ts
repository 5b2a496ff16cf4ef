/**
 * The line of a formula that a span lies on, and a line with carets under the span; a span over several lines is marked
 * to the end of its first. Long lines are cut around the span.
 *
 * @param width - most characters of the formula line shown
 */
export function caretLines(text: string, from: number, to: number, width = 100): { line: string; carets: string } {
  const start = text.lastIndexOf('\n', from - 1) + 1
  const newline = text.indexOf('\n', from)
  const end = newline < 0 ? text.length : newline
  let line = text.slice(start, end).replaceAll('\t', ' ').replace(/\r$/, '')
  let at = from - start
  const span = Math.max(1, Math.min(to, end) - from)
  if (line.length > width) {
    const cut = Math.max(0, at - Math.floor(width / 2))
    line = `${cut > 0 ? '…' : ''}${line.slice(cut, cut + width)}${cut + width < line.length ? '…' : ''}`
    at -= cut - (cut > 0 ? 1 : 0)
  }
  return { line, carets: ' '.repeat(at) + '^'.repeat(Math.max(1, Math.min(span, line.length - at))) }
}
