import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

/** A letter that no letter, digit or apostrophe stands before. */
const wordStart = /(^|[^\p{L}\p{M}\p{Nd}'’])(\p{L})/gu

export const titleCaseGuide: FunctionGuide = {
  doc: 'A text with a capital at the start of each word and small letters after it.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "title_case('lower MEADOW')", gives: 'Lower Meadow' },
    { formula: `title_case("o'dell-smith's")`, gives: "O'dell-Smith's" },
    { formula: "title_case('élan 2nd')", gives: 'Élan 2nd' },
  ],
}

export const titleCase = defineFunction({
  name: 'title_case',
  family: 'text',
  signature: '(text: text) -> text',
  errors: ['too-long'],
  kernel: textKernel((text, call) => {
    const { locale } = call.surroundings
    return text
      .toLocaleLowerCase(locale)
      .replace(wordStart, (_, before: string, letter: string) => before + letter.toLocaleUpperCase(locale))
  }),
})
