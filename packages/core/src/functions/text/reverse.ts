import { graphemeEnds } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

export const reverseGuide: FunctionGuide = {
  doc: 'The characters of a text from the last to the first, as its reader counts them.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "reverse('comb')", gives: 'bmoc' },
    { formula: "reverse('a👩‍🌾é')", gives: 'é👩‍🌾a' },
  ],
}

export const reverse = defineFunction({
  name: 'reverse',
  family: 'text',
  signature: '(text: text) -> text',
  errors: [],
  kernel: textKernel((text) => {
    const ends = graphemeEnds(text)
    let reversed = ''
    for (let at = ends.length - 1; at >= 0; at--) reversed += text.slice(at === 0 ? 0 : ends[at - 1], ends[at])
    return reversed
  }),
})
