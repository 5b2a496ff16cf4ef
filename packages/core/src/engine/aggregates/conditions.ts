import { type Checked, mapParts, somePart } from '../../formula/index.js'

/** An equality between something of the rows read and something of the row they are read for. */
export interface KeyTest {
  /** Of the rows read. */
  readonly member: Checked
  /** Of the row itself, as a formula of its own table. */
  readonly reader: Checked
}

/** The condition of an aggregate, taken apart by what its parts depend on. */
export interface ConditionParts {
  readonly keys: readonly KeyTest[]
  /** What depends on the rows read alone; null when nothing does. */
  readonly filter: Checked | null
  /** True when something else depends on both rows. */
  readonly hasPairs: boolean
}

/** Takes a condition apart at its `and`s. */
export function splitCondition(where: Checked | null): ConditionParts {
  const keys: KeyTest[] = []
  const filters: Checked[] = []
  let hasPairs = false
  for (const test of where === null ? [] : conjuncts(where)) {
    const key = keyTest(test)
    if (key !== null) keys.push(key)
    else if (readsOuter(test)) hasPairs = true
    else filters.push(test)
  }
  return { keys, filter: together(filters), hasPairs }
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

function keyTest(test: Checked): KeyTest | null {
  if (test.kind !== 'apply' || test.operator !== 'equal') return null
  const [left, right] = test.args as [Checked, Checked]
  for (const [member, outer] of [
    [left, right],
    [right, left],
  ] as const) {
    const reader = somePart(outer, ({ kind }) => kind === 'outer') ? asOuterFormula(outer) : null
    const isMember = somePart(member, ({ kind }) => kind === 'column' || kind === 'follow' || kind === 'over-rows')
    if (reader !== null && isMember && !readsOuter(member)) return { member, reader }
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
