import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { orderKeyOf } from '../model/index.js'

/** Adds the columns that something is said of because of others that were touched. */
export function addToldOf(model: Model, touched: Map<ColumnModel, TableModel>): void {
  // Keys of either side decide what is said of a link, at the column it begins with.
  const isTouched = (column: ColumnModel): boolean => touched.has(column)
  for (const { table, link } of model.links())
    if (link.columns.some(isTouched) || link.keys.some(isTouched)) touched.set(link.columns[0] as ColumnModel, table)
  for (const table of new Set(touched.values()))
    for (const column of table.columns) {
      const key = orderKeyOf(table, column)
      if (key !== undefined && touched.has(key)) touched.set(column, table)
    }
}
