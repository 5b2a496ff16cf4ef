import { compareText } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { eachRow } from './row-values.js'

/** The kernel of `min_of` (side −1) and `max_of` (side 1), over numbers, texts or dates. */
export function extremeKernel(side: 1 | -1): (call: KernelCall) => void {
  return (call) => {
    const { out } = call
    const zero = out.kind === 'text' ? '' : 0
    let best: number | string | null = null
    eachRow(
      call,
      () => {
        best = null
      },
      (vector, row, _index, isBlank) => {
        const value = isBlank ? zero : (vector.values[row] as number | string)
        if (best === null || compare(value, best) * side > 0) best = value
      },
      (row) => {
        out.values[row] = best as never
      },
    )
  }
}

function compare(left: number | string, right: number | string): number {
  return typeof left === 'string' ? compareText(left, right as string) : left - (right as number)
}
