import { type Checked, identityOf, mapParts, somePart, withoutSteps } from '../../formula/index.js'
import type { RangeOperator } from './ranges/index.js'

/** An equality between something of the rows read and something of the row they are read for. */
interface KeyTest {
  /** Of the rows read. */
  readonly member: Checked
  /** Of the row itself, as a formula of its own table. */
  readonly reader: Checked
}

/** A key of the rows read, and what it is compared with. */
interface RangeParts {
  readonly member: Checked
  readonly tests: readonly { readonly operator: RangeOperator; readonly reader: Checked }[]
}

/** The condition of an aggregate, taken apart by what its parts depend on. */
export interface ConditionParts {
  readonly keys: readonly KeyTest[]
  /** What depends on the rows read alone; null when nothing does. */
  readonly filter: Checked | null
  /** Bounds that the row itself sets for one key of the rows read; null when there are none. */
  readonly range: RangeParts | null
  /** True when something else depends on both rows. */
  readonly hasPairs: boolean
}

/** Takes a condition apart at its `and`s. */
export function splitCondition(where: Checked | null): ConditionParts {
  const keys: KeyTest[] = []
  const filters: Checked[] = []
  let range = null as RangeParts | null
  let hasPairs = false
  for (const test of where === null ? [] : conjuncts(withoutSteps(where))) {
    const key = keyTest(test)
    const bound = rangeTest(test)
    if (key !== null) keys.push(key)
    else if (bound !== null && (range === null || identityOf(range.member) === identityOf(bound.member)))
      range = { member: bound.member, tests: [...(range?.tests ?? []), bound] }
    else if (readsOuter(test)) hasPairs = true
    else filters.push(test)
  }
  return { keys, filter: together(filters), range, hasPairs }
}

/** True when an expression over rows reads the row they are read for. */
export function readsOuter(node: Checked): boolean {
  if (node.kind === 'outer') return true
  // Inside a nested function of several rows, `this` is the row of the rows read here.
  if (node.kind === 'over-rows') return false
  return somePartHere(node)
}

function somePartHere(node: Checked): boolean {
  let found = false
  mapParts(node, (part) => {
    found ||= readsOuter(part)
    return part
  })
  return found
}

/** An expression in which everything is read at the outer row, as a formula of that row; null when anything is not. */
export function asOuterFormula(node: Checked): Checked | null {
  if (node.kind === 'outer') return node.inner
  if (node.kind === 'column' || node.kind === 'follow' || node.kind === 'over-rows' || node.kind === 'step') return null
  if (node.kind === 'call' && node.record.movesWithClock === true) return null
  let isOuter = true
  const mapped = mapParts(node, (part) => {
    const outer = asOuterFormula(part)
    if (outer === null) isOuter = false
    return outer ?? part
  })
  return isOuter ? mapped : null
}

function conjuncts(node: Checked): readonly Checked[] {
  if (node.kind !== 'chain' || node.type !== 'boolean' || node.rest.some(({ operator }) => operator !== 'and')) return [node]
  return [node.first, ...node.rest.map(({ operand }) => operand)].flatMap(conjuncts)
}

/** The other way round of each comparison. */
const TURNED: Readonly<Record<RangeOperator, RangeOperator>> = {
  less: 'greater',
  'less-equal': 'greater-equal',
  greater: 'less',
  'greater-equal': 'less-equal',
}

function rangeTest(test: Checked): (RangeParts['tests'][number] & { readonly member: Checked }) | null {
  if (test.kind !== 'apply' || !(test.operator in TURNED)) return null
  const operator = test.operator as RangeOperator
  const [left, right] = test.args as [Checked, Checked]
  for (const [member, outer, way] of [
    [left, right, operator],
    [right, left, TURNED[operator]],
  ] as const) {
    const reader = readerOf(member, outer)
    if (reader !== null) return { member, reader, operator: way }
  }
  return null
}

/** What one side of a comparison is for the row itself, when the other is of the rows read alone; else null. */
function readerOf(member: Checked, outer: Checked): Checked | null {
  const reader = somePart(outer, ({ kind }) => kind === 'outer') ? asOuterFormula(outer) : null
  const isMember = somePart(member, ({ kind }) => kind === 'column' || kind === 'follow' || kind === 'over-rows')
  return reader !== null && isMember && !readsOuter(member) ? reader : null
}

function keyTest(test: Checked): KeyTest | null {
  if (test.kind !== 'apply' || test.operator !== 'equal') return null
  const [left, right] = test.args as [Checked, Checked]
  for (const [member, outer] of [
    [left, right],
    [right, left],
  ] as const) {
    const reader = readerOf(member, outer)
    if (reader !== null) return { member, reader }
  }
  return null
}

function together(tests: readonly Checked[]): Checked | null {
  const [first, ...others] = tests
  if (first === undefined || others.length === 0) return first ?? null
  const { from, to } = first
  const facts = { type: 'boolean' as const, mayBeBlank: true, mayFail: true, from, to }
  return { kind: 'chain', first, rest: others.map((operand) => ({ operator: 'and' as const, operand, ...facts })), ...facts }
}
