import type { KernelCall } from '../define.js'
import { booleanResults, perRow, textsOf } from '../kernel-rows.js'

/** A kernel that asks something of two texts. */
export function textTestKernel(test: (text: string, other: string) => boolean): (call: KernelCall) => void {
  return (call) => {
    const texts = textsOf(call, 0)
    const others = textsOf(call, 1)
    const results = booleanResults(call)
    perRow(call, (row) => {
      results[row] = test(texts[row] as string, others[row] as string) ? 1 : 0
    })
  }
}
