import { BLOCK_ROWS, Column, makeVector } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { Status, type ValueType } from '../../values/index.js'
import type { NumberArray } from '../schemas/index.js'

/**
 * Storage of a column from an array of numbers, block by block; NaN is blank. Dates are days and date-times milliseconds since
 * 1970-01-01.
 *
 * @param type - the type of the column; numbers where it has none yet
 */
export function columnOfNumbers(values: NumberArray, type: ValueType | null): Column {
  if (type === 'text' || type === 'boolean')
    throw refusal('bad-operation', { place: 'insert-rows, field block', reason: `an array of numbers is no ${type}.` })
  const column = new Column(type ?? 'number')
  for (let first = 0; first < values.length; first += BLOCK_ROWS) {
    const count = Math.min(BLOCK_ROWS, values.length - first)
    const block = makeVector('number', count)
    for (let row = 0; row < count; row++) {
      const value = values[first + row] as number
      if (Number.isNaN(value)) continue
      if (!Number.isFinite(value) || (type !== null && type !== 'number' && !Number.isInteger(value)))
        throw refusal('bad-value', {
          place: 'insert-rows, field block',
          found: String(value),
          reason: 'expected a finite number that fits the column, or NaN for blank.',
        })
      block.status[row] = Status.value
      block.values[row] = value + 0
    }
    column.adopt(block, count)
  }
  return column
}
