import type { Fix } from '../../findings/index.js'
import { functionNamed } from '../../functions/index.js'
import { foldName, printName } from '../../values/index.js'
import type { NamePart, Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'
import { columnRead, factsOf } from './nodes.js'

/** A name: a named step in sight, or a column of the table. */
export function checkName(context: CheckContext, parts: readonly [NamePart, ...NamePart[]], node: Syntax): Checked {
  if (parts.length > 1) {
    const own = context.scope.column((parts.at(-1) as NamePart).name)
    const hint = own === undefined ? '' : ` This table's own column is ${printName(own.name)}.`
    const fixes =
      own === undefined
        ? []
        : [{ title: `Use ${printName(own.name)}`, edits: [{ from: node.from, to: node.to, insert: printName(own.name) }] }]
    context.report('unexpected-qualifier', { name: context.source(node), hint }, node, fixes)
    return context.unknown(node)
  }
  const part = parts[0]
  const folded = foldName(part.name)
  const step = folded === '' ? undefined : context.steps.findLast((one) => one.folded === folded)
  if (step !== undefined) return { ...factsOf(step.value), kind: 'step', step: step.step, from: node.from, to: node.to }
  const column = context.scope.column(part.name)
  if (column === undefined) return unknownName(context, part, node)
  context.references.push({ column: column.id, from: part.from, to: part.to })
  return columnRead(column, node)
}

function unknownName(context: CheckContext, part: NamePart, node: Syntax): Checked {
  const tables = context.scope.tablesWithColumn(part.name)
  const fixes: Fix[] = []
  let hint = ''
  if (tables.length > 0) hint = ` Table ${tables.map(printName).join(' and ')} has one: was the formula meant for that table?`
  else {
    const near = context.nearest(part.name, [...context.scope.columnNames(), ...context.steps.map((step) => step.name)])
    if (near !== undefined) {
      hint = ` Nearest name: ${printName(near)}.`
      fixes.push({ title: `Use ${printName(near)}`, edits: [{ from: part.from, to: part.to, insert: printName(near) }] })
    } else if (functionNamed(part.name) !== undefined) hint = ` ${part.name} is a function; call it with parentheses.`
  }
  context.report('unknown-name', { place: `Table ${context.scope.table}`, name: printName(part.name), hint }, part, fixes)
  return context.unknown(node)
}

/** A named step and the formula that reads it. */
export function checkLet(context: CheckContext, node: Syntax & { kind: 'let' }): Checked {
  const bound = context.check(node.bound)
  return context.withStep(node.name.name, bound, node, () => context.check(node.body))
}
