import type { ViewParts } from './view-parts.js'

/** Slots of the rows that the condition of a view keeps. */
export function slotsOfView({ names: { engine, table }, where }: ViewParts): Int32Array {
  if (where === null) return table.store.rows.inOrder()
  return engine.select(table.store, engine.compile({ expression: where, watches: [] }))
}
