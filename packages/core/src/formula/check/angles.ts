import type { FunctionRecord } from '../../functions/index.js'
import { childrenOf, type Syntax } from '../syntax/index.js'
import type { CheckContext } from './context.js'

const takesRadians: ReadonlySet<string> = new Set(['sin', 'cos', 'tan'])
/** Functions that show that an angle was thought of in radians. */
const givesRadians: ReadonlySet<string> = new Set(['radians', 'pi', 'asin', 'acos', 'atan', 'atan2', 'convert'])

/**
 * Watches for angles that are so large that they may be degrees. Also where a unit says so, whose finding then stands for both: so a
 * formula stays the same formula when a column it reads gets another unit.
 */
export function watchAngle(context: CheckContext, record: FunctionRecord, node: Syntax & { kind: 'call' }): { watch?: number } {
  const arg = node.args[0]
  if (!takesRadians.has(record.name) || arg === undefined || arg.kind === 'literal') return {}
  if (someNode(arg, (one) => one.kind === 'call' && givesRadians.has(one.name.name.toLowerCase()))) return {}
  const insert = `radians(${context.source(arg)})`
  const fixes = [{ title: `Convert: ${insert}`, edits: [{ from: arg.from, to: arg.to, insert }] }]
  return context.watch({ code: 'angle-beyond-turn', subject: context.source(arg), from: arg.from, to: arg.to, fixes })
}

function someNode(node: Syntax, test: (node: Syntax) => boolean): boolean {
  return test(node) || childrenOf(node).some((child) => someNode(child, test))
}
