import { graphemeCount } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, LONGEST_TEXT, numbersOf, perRow, putText, textResults, textsOf } from '../kernel-rows.js'

/** A kernel that fills a text up to a width; `place` says on which side the filling goes. */
export function padKernel(place: (text: string, filling: string) => string): (call: KernelCall) => void {
  return (call) => {
    const texts = textsOf(call, 0)
    const widths = numbersOf(call, 1)
    const fillers = call.args.length > 2 ? textsOf(call, 2) : null
    const results = textResults(call)
    perRow(call, (row) => {
      const text = texts[row] as string
      const filler = fillers === null ? ' ' : (fillers[row] as string)
      const missing = (widths[row] as number) - graphemeCount(text)
      if (!Number.isInteger(missing) || graphemeCount(filler) !== 1) failRow(call, row, 'out-of-range')
      else if (missing * filler.length > LONGEST_TEXT) failRow(call, row, 'too-long')
      else putText(call, results, row, missing > 0 ? place(text, filler.repeat(missing)) : text)
    })
  }
}
