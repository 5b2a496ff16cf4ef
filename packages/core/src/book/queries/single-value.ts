import type { Engine } from '../../engine/index.js'
import type { TableModel } from '../model/index.js'
import { type ShownValue, showCell } from '../model/index.js'

/** The value of a tally or of a named value. */
export function singleValue(engine: Engine, owner: TableModel, name: string): ShownValue {
  const storage = engine.recalculation.storage(owner.store, owner.column(name).id)
  return storage === undefined ? null : showCell(storage.read(0), storage.type)
}
