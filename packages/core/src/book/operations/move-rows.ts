import { refusal } from '../../findings/index.js'
import { type JournaledMoveRows, moveRowsSchema } from '../schemas/index.js'
import { defineOperation, touchedRows } from './define.js'

export const moveRows = defineOperation<JournaledMoveRows>({
  schema: moveRowsSchema,
  touches: touchedRows,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { rows } = table.store
    const slotOf = (id: number): number => {
      const slot = rows.slotOf(id)
      if (slot === undefined) throw refusal('unknown-row', { table: table.name, row: id }, { table: table.name })
      return slot
    }
    const moved = new Set(operation.rows)
    const slots = operation.rows.map(slotOf)
    const before = operation.before === undefined ? undefined : slotOf(operation.before)
    const { places } = operation
    const fits = places?.every((place, index) => place <= rows.rowCount && place > (places[index - 1] ?? 0))
    if (moved.size < slots.length || (places !== undefined && (fits !== true || places.length !== slots.length)))
      throw refusal('bad-operation', { place: 'move-rows', reason: 'expected different rows and ascending row numbers.' })
    if (operation.before !== undefined && moved.has(operation.before))
      throw refusal('bad-operation', { place: 'move-rows, field before', reason: 'a row cannot stand before itself.' })
    transaction.applied.push(operation)
    if (slots.length === 0) return
    const former = slots.map((slot) => ({ id: rows.idOf(slot), place: rows.placeOf(slot) + 1 }))
    former.sort((a, b) => a.place - b.place)
    rows.move(slots, places === undefined ? before : places.map((place) => place - 1))
    transaction.dirtyIn(table).reordered = true
    const back = { rows: former.map(({ id }) => id), places: former.map(({ place }) => place) }
    transaction.undoWith({ op: 'move-rows', table: table.name, ...back })
  },
})
