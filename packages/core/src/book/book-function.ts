import { ownForm } from '../formula/index.js'
import type { ValueType } from '../values/index.js'
import type { Model } from './model/index.js'

/** A function that is defined in the workbook. */
export interface BookFunction {
  readonly name: string
  /** The parameters as they were written: names, some with their types. */
  readonly parameters: readonly string[]
  readonly formula: string
  readonly note: string | null
  /** How it is called: `per_hundred(part: number, whole: number)`, with the types that were declared or found. */
  readonly form: string
  /** The type of what it gives; null where that depends on what it is given. */
  readonly type: Exclude<ValueType, 'integer'> | null
}

/** The functions of a workbook, in order. */
export function functionsOf({ functions }: Model): BookFunction[] {
  return Array.from(functions.all.values(), (one) => {
    const { name, written, body, note, result } = one
    const type = result === 'blank' || result === 'unknown' ? null : result
    return { name, parameters: written, formula: body.text, note, form: ownForm(one), type }
  })
}
