import { type FunctionRecord, functionNamed } from '../../functions/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'

/**
 * Looks at an argument that is a text with rules of its own, such as a pattern or a unit: one that is written out and no
 * good is said, since every row would fail.
 *
 * @returns false when the call cannot be typed
 */
export function checkTextRule(context: CheckContext, record: FunctionRecord, args: readonly Checked[]): boolean {
  const { textRule } = record
  const arg = textRule === undefined ? undefined : args[textRule.argument]
  if (textRule === undefined || arg === undefined) return true
  if (textRule.isReady?.() === false) {
    context.report('patterns-not-loaded', {}, arg)
    return false
  }
  if (arg.kind !== 'constant' || typeof arg.value !== 'string') {
    if (textRule.isConstant !== true || arg.type === 'unknown') return true
    context.report(
      'constant-expected',
      {
        place: `The ${functionNamed(record.name)?.parameters[textRule.argument]?.name} of ${record.name}`,
        expected: textRule.expects,
      },
      arg,
    )
    return false
  }
  const types = args.map((one) => one.type)
  if (types.includes('unknown') || textRule.isUsable(arg.value, types)) return true
  const { choices } = textRule
  const near = choices === undefined ? undefined : context.nearest(arg.value, () => choices)
  const fixes =
    near === undefined ? [] : [{ title: `Use '${near}'`, edits: [{ from: arg.from, to: arg.to, insert: `'${near}'` }] }]
  const parameters = { name: record.name, expects: textRule.expects, found: context.source(arg), fault: textRule.fault }
  context.report('unusable-text', parameters, arg, fixes)
  return true
}
