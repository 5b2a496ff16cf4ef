import type { SeekAnswer, SeekRequest } from '@mellow-abacus/session'
import { finding, type Query, Refusal, type WorkbookView } from 'mellow-abacus'

/** Where a row stands among those that a condition keeps, in an order; or the next one of which another condition is true. */
export function soughtRow(view: WorkbookView, { table, where, order, sought }: SeekRequest): SeekAnswer['found'] {
  const whole = { table, columns: [], ...(where !== undefined && { where }), ...(order !== undefined && { order }) }
  if ('row' in sought) {
    if (!view.table(table).hasRow(sought.row)) return null
    return foundAt(view, whole, ({ ids }) => ids().indexOf(sought.row))
  }
  const { behind } = sought
  if (!Number.isInteger(behind) || behind < 0) {
    const reason = `expected a place from 0, received ${behind}.`
    throw new Refusal([finding('bad-operation', { place: 'what is sought, field behind', reason })])
  }
  const { slots: fitting } = view.query({ table, columns: [], where: sought.where })
  const isFitting = new Set(fitting)
  return foundAt(view, whole, ({ slots }) => {
    const next = slots.findIndex((slot, at) => at >= behind && isFitting.has(slot))
    return next >= 0 ? next : slots.findIndex((slot) => isFitting.has(slot))
  })
}

function foundAt(
  view: WorkbookView,
  query: Query,
  indexIn: (found: ReturnType<WorkbookView['query']>) => number,
): SeekAnswer['found'] {
  const found = view.query(query)
  const at = indexIn(found)
  return at < 0 ? null : { id: found.ids()[at] as number, place: at + 1 }
}
