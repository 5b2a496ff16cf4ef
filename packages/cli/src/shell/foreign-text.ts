import { SGR_MARK } from './paint.js'

/**
 * Signs that steer a terminal, or turn the order of what is read: control characters of C0 and C1, marks and overrides of the
 * direction of writing (Unicode, "Bidirectional Algorithm", explicit formatting), line and paragraph separators, tags.
 */
const STEERING = /[\p{Cc}\u061c\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff\u{e0000}-\u{e007f}]/gu

/**
 * A text as it may go to a terminal, wherever its parts come from: cells, names, authors, notes, names of files. What would
 * steer the terminal is shown as what it is, such as `⟨U+001B⟩`; line ends and the colours that this tool paints stay.
 */
export function forEyes(text: string): string {
  // Colours are told from escapes in foreign text by a mark that no one else knows.
  return text
    .split(SGR)
    .map((part, place) => (place % 2 === 1 ? `\u001b[${part}m` : part.replace(STEERING, shownSign)))
    .join('')
}

const SGR = new RegExp(`\\u001b\\[${SGR_MARK};(\\d+)m`, 'g')

function shownSign(sign: string): string {
  if (sign === '\n' || sign === '\t') return sign
  if (sign === '\r') return ''
  return `⟨U+${(sign.codePointAt(0) as number).toString(16).toUpperCase().padStart(4, '0')}⟩`
}
