import { isPeriodUnit, PERIOD_UNITS } from '../../values/index.js'
import type { TextRule } from '../define.js'

/** What the checker knows of an argument that names a unit of time. */
export function unitText(argument: number): TextRule {
  return {
    argument,
    expects: `a unit: ${PERIOD_UNITS.map((unit) => `'${unit}'`).join(', ')}`,
    isUsable: isPeriodUnit,
    fault: 'out-of-range',
    choices: PERIOD_UNITS,
  }
}
