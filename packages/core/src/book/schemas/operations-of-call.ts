import { refusal } from '../../findings/index.js'
import type { OperationJson } from './operation.js'

/**
 * Lists the operations of a call, given one by one or as a list.
 *
 * @throws Refusal for what is neither
 */
export function operationsOfCall(given: unknown): readonly OperationJson[] {
  const list: readonly unknown[] = Array.isArray(given) ? given : [given]
  const wrong = list.findIndex((one) => typeof one !== 'object' || one === null || Array.isArray(one))
  if (wrong < 0) return list as readonly OperationJson[]
  const found = list[wrong]
  const received = found === null ? 'null' : Array.isArray(found) ? 'a list' : typeof found
  const place = Array.isArray(given) ? `operation ${wrong + 1} of the call` : 'the operations'
  throw refusal('bad-operation', { place, reason: `expected an object with a field op, received ${received}.` })
}
