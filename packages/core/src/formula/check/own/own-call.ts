import { counted } from '../../../findings/index.js'
import { foldName } from '../../../values/index.js'
import type { Syntax } from '../../syntax/index.js'
import type { Checked, OwnCall } from '../checked.js'
import type { CheckContext } from '../context.js'
import { nameInside } from '../inner-names.js'
import type { OwnFunction, OwnParameter } from '../scope.js'
import { isOpen, typeWords } from '../types.js'
import { ownForm } from './own-form.js'
import { writtenOut } from './written-out.js'

type CallNode = Syntax & { kind: 'call' }

interface Span {
  readonly from: number
  readonly to: number
}

/**
 * A call of an own function: checked as if its formula were written there, with what it is given in place of the parameters. What
 * is given and read at the row is computed once, as a named step is; what functions of several rows read is read at their rows.
 */
export function checkOwnCall(context: CheckContext, own: OwnFunction, node: CallNode): Checked {
  context.callOwn(own.name, node)
  if (!own.isSound) {
    context.report('not-for-function', { name: own.name, reason: 'its own formula has mistakes.' }, node)
    return context.unknown(node)
  }
  if (!isWellCalled(context, own, node)) return context.unknown(node)
  const serial = context.nextCall()
  const steps: { readonly name: string; readonly checked: Checked }[] = []
  let fits = true
  const given = new Map<string, Syntax | string>()
  for (const [index, parameter] of own.parameters.entries()) {
    const arg = ungrouped(node.args[index] as Syntax)
    const checked = parameter.isReadAtRow ? context.check(arg) : null
    if (checked !== null && !isTaken(context, own, parameter, index, checked)) fits = false
    if (isPlain(arg)) given.set(foldName(parameter.name), arg)
    else {
      const name = nameInside(serial, parameter.name)
      given.set(foldName(parameter.name), name)
      context.give(name, arg)
      if (checked !== null) steps.push({ name, checked })
    }
  }
  if (!fits) return context.unknown(node)
  const shift = context.writeOut(own, node)
  if (shift === null) return context.unknown(node)
  const argument = (folded: string): Syntax | string | undefined => {
    const one = given.get(folded)
    if (one !== undefined) context.lengthen(typeof one === 'string' ? 1 : one.to - one.from, node)
    return one
  }
  const tree = writtenOut(own.body.tree, { shift, argument, step: (name) => nameInside(serial, name) })
  const bind = (at: number): Checked => {
    const step = steps[at]
    return step === undefined ? context.check(tree) : context.withStep(step.name, step.checked, tree, () => bind(at + 1))
  }
  return { ...bind(0), from: node.from, to: node.to }
}

/** The place in the formula itself of a place that may be in what it calls: there it is the call. */
export function placeInFormula(calls: readonly OwnCall[], place: Span): Span {
  const call = calls.find(({ body }) => body.from <= place.from && place.to <= body.to)
  return call === undefined ? { from: place.from, to: place.to } : placeInFormula(calls, call)
}

/** Names and literals are put in as they are, as a writer would; anything else is computed once. */
function isPlain(arg: Syntax): boolean {
  return arg.kind === 'name' || arg.kind === 'literal' || (arg.kind === 'unary' && arg.operand.kind === 'literal')
}

function ungrouped(node: Syntax): Syntax {
  return node.kind === 'group' ? ungrouped(node.inner) : node
}

function isWellCalled(context: CheckContext, own: OwnFunction, node: CallNode): boolean {
  const [clause] = node.clauses
  if (clause !== undefined) {
    context.report('misplaced-clause', { clause: clause.kind, reason: `${own.name} takes none.` }, clause)
    return false
  }
  const rated = node.args.find((arg) => arg.kind === 'rated')
  if (rated !== undefined) {
    context.report('not-here', { found: `"${rated.word}"`, reason: `${own.name} takes plain values.` }, rated)
    return false
  }
  if (node.args.length === own.parameters.length) return true
  const received = node.args.length === 0 ? 'none' : node.args.length
  const expected = counted(own.parameters.length, 'argument')
  context.report('argument-count', { name: own.name, expected, received, form: ownForm(own) }, node)
  for (const arg of node.args) context.check(arg)
  return false
}

function isTaken(context: CheckContext, own: OwnFunction, { name, types }: OwnParameter, index: number, given: Checked): boolean {
  if (types.length === 0 || isOpen(given.type) || types.includes(given.type)) return true
  const [wanted] = types
  context.mismatch(`${own.name}, argument ${index + 1} (${name}),`, types.map(typeWords).join(' or '), given, wanted)
  return false
}
