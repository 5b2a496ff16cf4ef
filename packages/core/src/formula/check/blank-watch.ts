import type { Fix } from '../../findings/index.js'
import type { Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'

/** A condition of a choice, as written and as checked. */
export interface WrittenCondition {
  readonly syntax: Syntax
  readonly checked: Checked
}

/**
 * What can be blank in the conditions, for the message, and a test that is true exactly where one of them is blank.
 */
export function blankTest(text: string, conditions: readonly WrittenCondition[]): { subject: string; test: string } {
  const subjects: string[] = []
  const tests: string[] = []
  for (const { syntax, checked } of conditions) {
    if (!checked.mayBeBlank) continue
    for (const part of blankParts(text, syntax, checked)) {
      if (!subjects.includes(part)) {
        subjects.push(part)
        tests.push(`${part} is blank`)
      }
    }
  }
  return { subject: subjects.join(' or '), test: tests.join(' or ') }
}

function blankParts(text: string, syntax: Syntax, checked: Checked): string[] {
  const source = (node: Syntax): string => text.slice(node.from, node.to)
  if (syntax.kind === 'group') return blankParts(text, syntax.inner, checked)
  // A comparison is blank exactly where an operand is; of anything else the whole is asked.
  if (syntax.kind === 'compare' && checked.kind === 'apply') {
    const operands = [syntax.left, syntax.right]
    return checked.args.flatMap((arg, index) => (arg.mayBeBlank ? [source(operands[index] as Syntax)] : []))
  }
  return syntax.kind === 'name' ? [source(syntax)] : [`(${source(syntax)})`]
}

/** The fix for a choice whose `else` takes blanks: a last branch that keeps them blank. */
export function blankFix(text: string, owner: Syntax, test: string): Fix | null {
  const source = (node: Syntax): string => text.slice(node.from, node.to)
  const title = 'Keep blanks blank'
  if (owner.kind === 'call') {
    const [condition, then, otherwise] = owner.args
    if (condition === undefined || then === undefined || otherwise === undefined) return null
    const insert = `case when ${source(condition)} then ${source(then)} when ${test} then blank else ${source(otherwise)} end`
    return { title, edits: [{ from: owner.from, to: owner.to, insert }] }
  }
  if (owner.kind !== 'case' || owner.elseFrom === null) return null
  if (owner.subject !== null) {
    const insert = `if(${source(owner.subject)} is blank, blank, ${source(owner)})`
    return { title, edits: [{ from: owner.from, to: owner.to, insert }] }
  }
  return { title, edits: [{ from: owner.elseFrom, to: owner.elseFrom, insert: `when ${test} then blank ` }] }
}
