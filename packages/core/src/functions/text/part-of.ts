import { graphemeEnds } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numbersOf, perRow, putText, textResults, textsOf } from '../kernel-rows.js'

/**
 * A kernel that cuts a part out of a text, in user-perceived characters.
 *
 * @param range - from the count of characters and the whole-number arguments to a half-open range, or null for out-of-range
 */
export function partKernel(
  range: (characters: number, first: number, second: number) => [number, number] | null,
): (call: KernelCall) => void {
  return (call) => {
    const texts = textsOf(call, 0)
    const firsts = numbersOf(call, 1)
    const seconds = call.args.length > 2 ? numbersOf(call, 2) : firsts
    const results = textResults(call)
    perRow(call, (row) => {
      const text = texts[row] as string
      const first = firsts[row] as number
      const second = seconds[row] as number
      const ends = graphemeEnds(text)
      const part = Number.isInteger(first) && Number.isInteger(second) ? range(ends.length, first, second) : null
      if (part === null) failRow(call, row, 'out-of-range')
      else {
        const [from, to] = part
        putText(
          call,
          results,
          row,
          from >= to ? '' : text.slice(from === 0 ? 0 : ends[from - 1], ends[Math.min(to, ends.length) - 1]),
        )
      }
    })
  }
}
