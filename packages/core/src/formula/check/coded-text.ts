import { type FunctionRecord, functionNamed } from '../../functions/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'

/**
 * Looks at an argument that is a text with rules of its own, such as a pattern or a unit: one that is written out and no
 * good is said, since every row would fail.
 *
 * @returns false when the call cannot be typed
 */
export function checkCoded(context: CheckContext, record: FunctionRecord, args: readonly Checked[]): boolean {
  const { coded } = record
  const arg = coded === undefined ? undefined : args[coded.argument]
  if (coded === undefined || arg === undefined) return true
  if (arg.kind !== 'constant' || typeof arg.value !== 'string') {
    if (coded.isConstant !== true || arg.type === 'unknown') return true
    context.report(
      'constant-expected',
      { place: `The ${functionNamed(record.name)?.parameters[coded.argument]?.name} of ${record.name}`, expected: coded.expects },
      arg,
    )
    return false
  }
  const types = args.map((one) => one.type)
  if (types.includes('unknown') || coded.isUsable(arg.value, types)) return true
  const { choices } = coded
  const near = choices === undefined ? undefined : context.nearest(arg.value, () => choices)
  const fixes =
    near === undefined ? [] : [{ title: `Use '${near}'`, edits: [{ from: arg.from, to: arg.to, insert: `'${near}'` }] }]
  const parameters = { name: record.name, expects: coded.expects, found: context.source(arg), fault: coded.fault }
  context.report('unusable-text', parameters, arg, fixes)
  return true
}
