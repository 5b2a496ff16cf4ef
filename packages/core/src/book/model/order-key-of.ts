import type { ColumnModel } from './column-model.js'
import type { TableModel } from './table-model.js'

/** The column whose values say in which order those of another stand; undefined when there is none. */
export function orderKeyOf(table: TableModel, { properties }: ColumnModel): ColumnModel | undefined {
  return properties.orderKey === undefined ? undefined : table.withId(properties.orderKey)
}
