import { type FunctionRecord, functionNamed } from '../functions/index.js'
import type { ValueType } from '../values/index.js'

/** The record of a function that programs are made of. */
export function recordNamed(name: string): FunctionRecord {
  const record = functionNamed(name)
  if (record === undefined) throw new RangeError(`there is no function ${name}`)
  return record
}

/** The type of a result: that of the first argument where the signature says so. */
export function resultOf({ result }: FunctionRecord, first: ValueType = 'text'): ValueType {
  if (result !== 'same' && result !== 'T' && result !== 'ordered') return result as ValueType
  return first === 'integer' ? 'number' : first
}
