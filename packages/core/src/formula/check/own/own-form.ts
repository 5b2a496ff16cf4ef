import { printName } from '../../../values/index.js'
import type { OwnFunction } from '../scope.js'
import { typeWords } from '../types.js'

/** How an own function is called: `per_hundred(part: number, whole: number)`. */
export function ownForm({ name, parameters }: Pick<OwnFunction, 'name' | 'parameters'>): string {
  return `${name}(${parameters.map(parameterForm).join(', ')})`
}

/** A parameter with the types that it takes: `part: number`. */
export function parameterForm({ name, types }: OwnFunction['parameters'][number]): string {
  return types.length === 0 ? printName(name) : `${printName(name)}: ${types.map(typeWords).join(' or ')}`
}
