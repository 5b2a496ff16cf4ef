import { type Finding, hasErrors } from '../../findings/index.js'
import { functionNamed, isOverRows } from '../../functions/index.js'
import { foldName, type ValueType } from '../../values/index.js'
import { childrenOf, type Parsed, type Syntax } from '../syntax/index.js'
import { checkFormula } from './check.js'
import type { CheckedFormula } from './checked.js'
import type { ColumnId } from './ids.js'
import type { BookScope, OwnFunction, OwnParameter, Scope, ScopeColumn } from './scope.js'
import { type ExpressionType, isOpen } from './types.js'

/** What an own function is defined by. */
export interface GivenFunction {
  readonly name: string
  readonly parameters: readonly { readonly name: string; readonly type: ExpressionType | null }[]
  readonly body: Parsed
}

/** What is found out about an own function from its formula. */
export interface FunctionFacts extends Pick<OwnFunction, 'parameters' | 'result'> {
  readonly findings: readonly Finding[]
  readonly checked: CheckedFormula
}

const TYPES: readonly ExpressionType[] = ['number', 'text', 'boolean', 'date', 'datetime']

/** So often a formula is checked to find the types of its parameters; then they are as they are known. */
const MOST_CHECKS = 400

/**
 * Checks an own function by itself. The parameters are the columns of a table that has no others: that is how functions of
 * several rows may read them. A parameter takes every type with which the formula has no mistake for some types of the others.
 *
 * @param book - the names that belong to no table
 */
export function checkOwnFunction(given: GivenFunction, book: BookScope): FunctionFacts {
  const { body } = given
  const declared = given.parameters.map(({ type }) => type)
  const check = (types: Types): CheckedFormula => checkFormula(body, scopeInside(given, types, book))
  const open = check(declared)
  const errors = errorsOf(open)
  const found = errors.length > 0 ? declared.map(() => []) : findTypes(declared, (types) => hasErrors(check(types).findings))
  if (errors.length === 0 && found.some((types) => types.length === 0)) {
    // No type goes with all its uses; what is wrong with the first says which use is in the way.
    const one = found.findIndex((types) => types.length === 0)
    const alone = errorsOf(check(declared.with(one, 'number')))
    errors.push(...(alone.length > 0 ? alone : errorsOf(check(declared.map((type) => type ?? 'number')))))
  }
  const isRead = readAtRow(given, book)
  const parameters = given.parameters.map(({ name }, index): OwnParameter => {
    const types = found[index] as ExpressionType[]
    return { name, types: types.length === TYPES.length ? [] : types, isReadAtRow: isRead(name) }
  })
  const certain = check(parameters.map(({ types }) => (types.length === 1 ? (types[0] as ExpressionType) : null)))
  const { type } = certain.expression
  return { parameters, result: isOpen(type) ? 'blank' : type, findings: errors, checked: open }
}

/** A type for each parameter; null where it is left open. */
type Types = readonly (ExpressionType | null)[]

function errorsOf({ findings }: CheckedFormula): Finding[] {
  return findings.filter(({ severity }) => severity === 'error')
}

/** The types of each parameter that go with some types of the others. */
function findTypes(declared: Types, isWrong: (types: Types) => boolean): ExpressionType[][] {
  let checks = 0
  const alone = declared.map((type, index) =>
    type !== null ? [type] : TYPES.filter((one) => !isWrong(declared.with(index, one))),
  )
  /** True where the parameters still open can have types with which nothing is wrong. */
  const canBe = (types: Types): boolean => {
    if (++checks > MOST_CHECKS) return true
    if (isWrong(types)) return false
    const next = types.indexOf(null)
    return next < 0 || (alone[next] as ExpressionType[]).some((type) => canBe(types.with(next, type)))
  }
  return alone.map((types, index) => (types.length < 2 ? types : types.filter((type) => canBe(declared.with(index, type)))))
}

/** The names inside an own function: its parameters, and what belongs to the book and not to a table. */
function scopeInside({ name, parameters }: GivenFunction, types: Types, book: BookScope): Scope {
  const columns = new Map(
    parameters.map((parameter, index): [string, ScopeColumn] => {
      const type = types[index] ?? null
      const of = type === null ? { type: null, isOpen: true } : { type: type as ValueType }
      const facts = { ...of, mayBeBlank: true, mayFail: true }
      return [foldName(parameter.name), { id: -(index + 1) as ColumnId, name: parameter.name, ...facts }]
    }),
  )
  const { value, values, functionNamed: own, functions } = book
  return {
    table: name,
    function: name,
    column: (one) => columns.get(foldName(one)),
    columnNames: () => parameters.map((one) => one.name),
    tablesWithColumn: () => [],
    tagged: () => [],
    tagNames: () => [],
    link: () => undefined,
    links: () => [],
    tally: () => undefined,
    tallies: () => [],
    value,
    values,
    functionNamed: own,
    functions,
    tableNamed: () => undefined,
    tableNames: () => [],
  }
}

/** Says which parameters have a value at the row of the call; what an own function reads of several rows only has none. */
function readAtRow({ body }: GivenFunction, book: BookScope): (parameter: string) => boolean {
  const read = new Set<string>()
  const walk = (node: Syntax, isInRows: boolean): void => {
    if (node.kind === 'name') {
      const [head, second] = node.parts
      if (second !== undefined && foldName(head.name) === 'this') read.add(foldName(second.name))
      else if (!isInRows) read.add(foldName(head.name))
      return
    }
    const record = node.kind === 'call' ? functionNamed(node.name.name) : undefined
    const own = node.kind === 'call' && record === undefined ? book.functionNamed(node.name.name) : undefined
    if (node.kind === 'call' && own !== undefined) {
      for (const [index, arg] of node.args.entries()) walk(arg, isInRows || own.parameters[index]?.isReadAtRow === false)
      return
    }
    const isOfRows = isInRows || (record !== undefined && isOverRows(record))
    for (const child of childrenOf(node)) walk(child, isOfRows)
  }
  walk(body.tree, false)
  return (parameter) => read.has(foldName(parameter))
}
