import { finding, Refusal } from '../../findings/index.js'
import { type ColumnId, type Parsed, visitCalls } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { FunctionModel, Model } from '../model/index.js'

/**
 * Checks all own functions by themselves.
 *
 * @throws Refusal for functions that call each other round and round or too deep, and for one whose formula has mistakes
 */
export function checkFunctions(model: Model): void {
  const { functions } = model
  const fault = functions.fault()
  if (fault !== null) {
    const [first] = fault.path as readonly [FunctionModel]
    const path = [...fault.path, first].map((one) => one.name).join(' → ')
    throw new Refusal([finding(fault.code, { name: first.name, path }, { function: first.name })])
  }
  for (const one of functions.all.values()) {
    const [first, ...others] = (one.facts?.findings ?? []).map((found) => ({ ...found, function: one.name }))
    if (first !== undefined) throw new Refusal([first, ...others])
    const { name, unused } = one
    if (unused !== undefined)
      throw new Refusal([finding('unused-parameter', { name, parameter: printName(unused) }, { function: name })])
  }
}

/** The named values that a formula reads through the own functions that it calls. */
export function valuesOfFunctions(model: Model, parsed: Parsed): Set<ColumnId> {
  const values = new Set<ColumnId>()
  const seen = new Set<string>()
  const open = visitCalls(parsed.tree, foldName)
  for (let call = open.pop(); call !== undefined; call = open.pop()) {
    const called = model.functions.find(call.name)
    if (called === undefined || seen.has(call.name)) continue
    seen.add(call.name)
    for (const name of called.names) {
      const value = model.values.find(name)
      if (value !== undefined) values.add(value.id)
    }
    open.push(...called.calls)
  }
  return values
}
