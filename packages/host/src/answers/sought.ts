import type { SeekAnswer, SeekRequest } from '@mellow-abacus/session'
import { finding, Refusal, type WorkbookView } from 'mellow-abacus'
import { FoundRows } from '../windows/found-rows.js'

/** Where a row stands among those of a window; or the next one of which another condition is true. */
export function soughtRow(view: WorkbookView, { sought, ...asked }: SeekRequest): SeekAnswer['found'] {
  if ('where' in sought && (!Number.isInteger(sought.behind) || sought.behind < 0)) {
    const reason = `expected a place from 0, received ${sought.behind}.`
    throw new Refusal([finding('bad-operation', { place: 'what is sought, field behind', reason })])
  }
  const rows = new FoundRows(view, asked)
  const place =
    'row' in sought
      ? rows.placeOf(sought.row)
      : rows.nextOf(new Set(view.query({ table: asked.table, columns: [], where: sought.where }).ids()), sought.behind)
  return place === 0 ? null : { id: rows.ids(place, place + 1)[0] as number, place }
}
