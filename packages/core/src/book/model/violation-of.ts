import type { Checked, CheckedFormula } from '../../formula/index.js'

/**
 * What a rule keeps of each row: true where its condition is false, else blank. So the values of its column are the rows that
 * break it, and their number is known at any time.
 */
export function violationOf(formula: CheckedFormula, blankIsWrong: boolean): CheckedFormula {
  const condition = formula.expression
  const { from, to } = condition
  const facts = { type: 'boolean' as const, mayBeBlank: true, mayFail: condition.mayFail, from, to }
  const constant = (value: boolean | null): Checked => ({ ...facts, mayFail: false, kind: 'constant', value })
  const isBlank: Checked = { ...facts, kind: 'apply', operator: 'is-blank', args: [condition] }
  const branches = [
    { condition, value: constant(null) },
    ...(blankIsWrong ? [] : [{ condition: isBlank, value: constant(null) }]),
  ]
  return { ...formula, expression: { ...facts, kind: 'choose', branches, otherwise: constant(true) } }
}
