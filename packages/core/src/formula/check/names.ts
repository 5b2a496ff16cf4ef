import type { Fix } from '../../findings/index.js'
import { functionNamed } from '../../functions/index.js'
import { foldName, printName } from '../../values/index.js'
import type { NamePart, Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'
import { factsOf } from './nodes.js'
import type { Scope } from './scope.js'

/** A single name: a named step in sight, a column of the table, a tally or a named value. */
export function checkName(context: CheckContext, node: Syntax & { kind: 'name' }): Checked {
  const part = node.parts[0]
  const step = context.stepNamed(part.name)
  if (step !== undefined) return { ...factsOf(step.value), kind: 'step', step: step.step, from: node.from, to: node.to }
  const given = context.givenBy(part.name)
  if (given !== undefined) return context.check(given)
  return readIn(context, context.scope, part, node) ?? unknownName(context, part, node)
}

/** What a name means in a table: its column, else its tally, else a named value; undefined when it is none of them. */
export function readIn(context: CheckContext, scope: Scope, part: NamePart, node: Syntax): Checked | undefined {
  const column = scope.column(part.name)
  if (column !== undefined) {
    context.refer(column.id, part)
    const hidden = scope.value(part.name)
    if (hidden !== undefined && node.kind === 'name' && node.parts.length === 1) hintShadowed(context, part)
    return context.readColumn(column, node)
  }
  const single = scope.tally(part.name) ?? scope.value(part.name)
  if (single === undefined) return undefined
  return context.readSingle(single, node)
}

function hintShadowed(context: CheckContext, part: NamePart): void {
  const insert = `book.${printName(part.name)}`
  context.report('shadowed-value', { name: printName(part.name), near: insert }, part, [
    { title: `Use the named value, ${insert}`, edits: [{ from: part.from, to: part.to, insert }] },
  ])
}

function unknownName(context: CheckContext, part: NamePart, node: Syntax): Checked {
  const { scope } = context
  const fixes: Fix[] = []
  let hint = ''
  const replaceBy = (title: string, insert: string): void => {
    fixes.push({ title, edits: [{ from: part.from, to: part.to, insert }] })
  }
  const outside = context.outerNames(part.name)
  const tables = scope.tablesWithColumn(part.name)
  if (scope.function !== undefined && outside === null) {
    const near = context.nearest(part.name, () => [...scope.columnNames(), ...context.stepNames(), ...namesOf(scope.values())])
    if (near !== undefined) replaceBy(`Use ${printName(near)}`, printName(near))
    hint = `${near === undefined ? '' : ` Nearest name: ${printName(near)}.`} A ${KNOWN_INSIDE}`
  } else if (outside !== null) {
    const insert = `this.${printName(part.name)}`
    hint = ` ${outside} has one; here the names are those of the rows read. Write ${insert}.`
    replaceBy(`Use ${insert}`, insert)
  } else if (tables.length > 0)
    hint = ` Table ${tables.map(printName).join(' and ')} has one: was the formula meant for that table?`
  else {
    const near = context.nearest(part.name, () => [
      ...scope.columnNames(),
      ...context.stepNames(),
      ...namesOf(scope.tallies()),
      ...namesOf(scope.values()),
    ])
    if (context.isBesideText) {
      const insert = `'${part.name.replaceAll("'", "''")}'`
      hint = ` A text stands in quotes: ${insert}.`
      replaceBy(`Write the text ${insert}`, insert)
    }
    if (near !== undefined) {
      hint += ` Nearest name: ${printName(near)}.`
      replaceBy(`Use ${printName(near)}`, printName(near))
    } else if (functionNamed(part.name) !== undefined) hint = ` ${part.name} is a function; call it with parentheses.`
    else if (scope.tableNamed(part.name) !== undefined)
      hint = ` ${printName(part.name)} is a table; count(${printName(part.name)}) counts its linked rows.`
  }
  context.report('unknown-name', { place: ownerWords(scope), name: printName(part.name), hint }, part, fixes)
  return context.unknown(node)
}

/** What names belong to, as a message says it. */
function ownerWords({ table, function: own }: Scope): string {
  return own === undefined ? `Table ${table}` : `The function ${own}`
}

const KNOWN_INSIDE = 'function knows its parameters, other functions and named values; make it a parameter.'

/** Says that the formula of an own function names something of a table. */
export function refuseOutsider(context: CheckContext, node: Syntax): void {
  context.report('not-here', { found: context.source(node), reason: `a ${KNOWN_INSIDE}` }, node)
}

function namesOf(all: Iterable<{ readonly name: string }>): string[] {
  return Array.from(all, ({ name }) => name)
}

/** A named step and the formula that reads it. */
export function checkLet(context: CheckContext, node: Syntax & { kind: 'let' }): Checked {
  const bound = context.check(node.bound)
  return context.withStep(node.name.name, bound, node, () => context.check(node.body))
}

/** True when a part of a path is this keyword. */
export function isKeywordPart(part: NamePart, word: string): boolean {
  return !part.quoted && foldName(part.name) === word
}
