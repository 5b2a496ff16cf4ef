import { graphemeEnds } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const reverse = defineFunction({
  name: 'reverse',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'The characters of a text from the last to the first, as its reader counts them.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: "reverse('comb')", gives: 'bmoc' },
    { formula: "reverse('a👩‍🌾é')", gives: 'é👩‍🌾a' },
  ],
  kernel: textKernel((text) => {
    const ends = graphemeEnds(text)
    let reversed = ''
    for (let at = ends.length - 1; at >= 0; at--) reversed += text.slice(at === 0 ? 0 : ends[at - 1], ends[at])
    return reversed
  }),
})
