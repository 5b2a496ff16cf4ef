import { type FunctionRecord, functionNamed, guideOf } from '../../functions/index.js'
import { type BookScope, type OwnFunction, ownForm, parameterForm } from '../check/index.js'
import { tokenize } from '../syntax/index.js'

/** The call that a place lies in, with the parameter being written. */
export interface SignatureHelp {
  readonly name: string
  /** `round(value: number, digits?: number) → number` as text, and where each parameter stands in it. */
  readonly form: string
  readonly parameters: readonly { readonly from: number; readonly to: number }[]
  /** Which of them is being written; null behind the last. */
  readonly active: number | null
  readonly doc: string
  readonly clauses: readonly string[]
}

/** Says how the function around a place is called; null outside of calls. It works on formulas that are not finished. */
export function signatureAt(text: string, offset: number, scope: BookScope): SignatureHelp | null {
  const call = callAround(text, offset, scope)
  if (call === null) return null
  const record = functionNamed(call.name)
  const own = record === undefined ? scope.functionNamed(call.name) : undefined
  if (own !== undefined) return ownSignature(own, call.argument)
  if (record === undefined) return null
  const { form, parameters } = formOf(record)
  const last = record.parameters.length - 1
  const repeats = record.parameters[last]?.repeats === true
  const active = call.argument <= last ? call.argument : repeats ? last : null
  return { name: record.name, form, parameters, active, doc: guideOf(record).doc, clauses: record.clauses ?? [] }
}

/** The name of the innermost call that is open at a place, and which of its arguments the place is in. */
export function callAround(text: string, offset: number, scope: BookScope): { name: string; argument: number } | null {
  const open: { name: string | null; argument: number }[] = []
  const { tokens } = tokenize(text)
  for (const [index, token] of tokens.entries()) {
    if (token.kind !== 'sign' || token.from >= offset) continue
    const before = tokens[index - 1]
    if (token.sign === '(') open.push({ name: before?.kind === 'name' && !before.quoted ? before.name : null, argument: 0 })
    else if (token.sign === ')') open.pop()
    else if (token.sign === ',') {
      const top = open.at(-1)
      if (top !== undefined) top.argument++
    }
  }
  const isKnown = (name: string): boolean => functionNamed(name) !== undefined || scope.functionNamed(name) !== undefined
  const call = open.findLast(({ name }) => name !== null && isKnown(name))
  return call === undefined ? null : { name: call.name as string, argument: call.argument }
}

function ownSignature(own: OwnFunction, argument: number): SignatureHelp {
  const form = ownForm(own)
  let from = own.name.length + 1
  const parameters = own.parameters.map((parameter) => {
    const to = from + parameterForm(parameter).length
    const span = { from, to }
    from = to + 2
    return span
  })
  const doc = own.note ?? `= ${own.body.text}`
  return { name: own.name, form, parameters, active: argument < parameters.length ? argument : null, doc, clauses: [] }
}

function formOf(record: FunctionRecord): { form: string; parameters: { from: number; to: number }[] } {
  let form = `${record.name}(`
  const parameters = record.parameters.map((parameter, index) => {
    if (index > 0) form += ', '
    const from = form.length
    form += `${parameter.repeats ? '…' : ''}${parameter.name}${parameter.optional ? '?' : ''}: ${parameter.types.join(' | ')}`
    return { from, to: form.length }
  })
  return { form: `${form}) → ${record.result}`, parameters }
}
