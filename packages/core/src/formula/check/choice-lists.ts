import { printName } from '../../values/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'

/** Says when a column with a list of choices is compared with a text that is none of them. */
export function checkChoices(context: CheckContext, left: Checked, right: Checked): void {
  const column = choiceColumn(context, left) ?? choiceColumn(context, right)
  const text = [left, right].find((side) => side.kind === 'constant' && typeof side.value === 'string')
  if (column !== null && text !== undefined) checkChoice(context, text, column.name, column.choices)
}

/** Says when a text written out is none of some choices. */
function checkChoice(context: CheckContext, text: Checked, name: string, choices: readonly string[]): void {
  if (text.kind !== 'constant' || typeof text.value !== 'string' || choices.includes(text.value)) return
  const near = context.nearest(text.value, () => choices)
  const insert = near === undefined ? '' : `'${near.replaceAll("'", "''")}'`
  const hint = near === undefined ? '' : ` Nearest: ${insert}.`
  const fixes = near === undefined ? [] : [{ title: `Use ${insert}`, edits: [{ from: text.from, to: text.to, insert }] }]
  const parameters = { name: context.source(text), column: printName(name), choices: choices.join(', '), hint }
  context.report('not-a-choice', parameters, text, fixes)
}

/** Looks at every text written out that a formula can give, for a column that has a list of choices. */
export function checkResults(context: CheckContext, expression: Checked, name: string, choices: readonly string[]): void {
  switch (expression.kind) {
    case 'constant':
      return checkChoice(context, expression, name, choices)
    case 'choose':
      for (const { value } of expression.branches) checkResults(context, value, name, choices)
      if (expression.otherwise !== null) checkResults(context, expression.otherwise, name, choices)
      return
    case 'coalesce':
      for (const operand of expression.operands) checkResults(context, operand, name, choices)
      return
    case 'let':
      return checkResults(context, expression.body, name, choices)
    case 'if-error':
      checkResults(context, expression.value, name, choices)
      return checkResults(context, expression.otherwise, name, choices)
    default:
      return
  }
}

function choiceColumn(context: CheckContext, side: Checked): { name: string; choices: readonly string[] } | null {
  const column = side.kind === 'column' || side.kind === 'step' ? context.columnBehind(side) : undefined
  return column?.choices === undefined ? null : { name: column.name, choices: column.choices }
}
