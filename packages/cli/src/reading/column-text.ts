import { VALUE_TYPES, type ValueType } from 'mellow-abacus'
import { UsageFault } from '../shell/index.js'

/**
 * `name` or `name:type`.
 *
 * @throws UsageFault
 */
export function columnOf(text: string): { name: string; type?: ValueType } {
  const match = /^(.+):([a-z]+)$/.exec(text)
  if (match === null) return { name: text }
  const type = VALUE_TYPES.find((one) => one === match[2])
  if (type === undefined) throw new UsageFault(`there is no type ${match[2]}; there are ${VALUE_TYPES.join(', ')}.`)
  return { name: match[1] as string, type }
}
