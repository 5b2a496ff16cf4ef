import { FONT_WIDTHS } from './font-widths.js'

/** Width of a sign that is not in the table, in thousandths of the size: that of a Chinese one, so that no text is cut off. */
const WIDE = 1000

/**
 * How wide a text is drawn in the font of charts, in pixels.
 *
 * @param size - of the font, in pixels
 */
export function textWidth(text: string, size: number, weight: 'regular' | 'bold' = 'regular'): number {
  let thousandths = 0
  for (const sign of text) thousandths += signWidth(sign.codePointAt(0) as number, weight)
  return (thousandths * size) / 1000
}

function signWidth(code: number, weight: 'regular' | 'bold'): number {
  const range = FONT_WIDTHS[weight].find(({ first, widths }) => code >= first && code < first + widths.length)
  return range?.widths[code - range.first] ?? WIDE
}

/** A text in lines no wider than so many pixels, broken at spaces; a word alone may be wider. */
export function wrapped(text: string, width: number, size: number, weight: 'regular' | 'bold' = 'regular'): string[] {
  const lines: string[] = []
  for (const word of text.split(/\s+/)) {
    const last = lines.at(-1)
    const longer = last === undefined ? word : `${last} ${word}`
    if (last !== undefined && textWidth(longer, size, weight) <= width) lines[lines.length - 1] = longer
    else lines.push(word)
  }
  return lines
}
