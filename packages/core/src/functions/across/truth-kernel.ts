import type { BooleanVector } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { booleanResults } from '../kernel-rows.js'

/**
 * The kernel of `any_of` (deciding value 1) and `all_of` (0): one deciding value decides whatever the others are, errors
 * included; blanks are skipped.
 */
export function truthKernel(deciding: 0 | 1): (call: KernelCall) => void {
  return (call) => {
    const { args, out, selection } = call
    const results = booleanResults(call)
    out.clean = false
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      let status: number = Status.blank
      let isDecided = false
      for (let index = 0; index < args.length && !isDecided; index++) {
        const vector = args[index] as BooleanVector
        const of = vector.status[row] as number
        if (of === Status.value) {
          isDecided = vector.values[row] === deciding
          if (status === Status.blank) status = Status.value
        } else if (of > Status.blank && status <= Status.blank) status = of
      }
      out.status[row] = isDecided ? Status.value : status
      results[row] = isDecided ? deciding : 1 - deciding
    }
  }
}
