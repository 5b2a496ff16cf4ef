import type { Engine } from '../../engine/index.js'
import { type Finding, finding } from '../../findings/index.js'
import { displayScalar, printName, type Scalar, type ValueType } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { orderKeyOf } from '../model/index.js'
import { keysByValue } from '../queries/index.js'

/** Values of a column that have more than one order key, so that their place is not certain. */
export function orderKeyFindings(engine: Engine, table: TableModel, column: ColumnModel): Finding[] {
  const key = orderKeyOf(table, column)
  if (key === undefined) return []
  const torn = [...keysByValue(engine, table, column, key)].filter(([, { other }]) => other !== null)
  const [first] = torn
  if (first === undefined) return []
  const [value, { lowest, other }] = first
  const show = (one: Scalar | null, type: ValueType | null): string => (one === null ? '' : displayScalar(one, type ?? 'text'))
  const parameters = {
    value: JSON.stringify(show(value, column.type)),
    name: printName(column.name),
    key: printName(key.name),
    one: show(lowest, key.type),
    other: show(other, key.type),
    more: torn.length === 1 ? '' : ` So have ${torn.length - 1} more.`,
  }
  return [finding('order-key-conflict', parameters)]
}
