import type { Syntax } from '../syntax/index.js'

/** The arguments of a call that are formulas of the row. */
export function partsOfCall(node: Syntax & { kind: 'call' }): Syntax[] {
  return node.args.flatMap((arg) => {
    if (arg.kind === 'rated') return [arg.value]
    return arg.kind === 'tag' || (arg.kind === 'name' && arg.every) ? [] : [arg]
  })
}
