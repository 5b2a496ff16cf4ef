import type { KeyboardEvent } from 'react'
import type { Folding } from './folding'
import { type GridPlace, moved } from './moves'
import type { CellEditing } from './use-editing'

/** What keys do in the grid. */
export interface KeyWork {
  readonly at: GridPlace
  readonly rows: number
  readonly columns: number
  /** Rows that are seen at once. */
  readonly page: number
  readonly edit: Omit<CellEditing, 'editing'>
  readonly folding: Folding
  goTo(place: GridPlace, isRange?: boolean): void
  openMenu(column: number): void
  setAnchor(anchor: null): void
  move(isUp: boolean): void
  /** Puts the current row below the one above it, or out of the row it is below; false in a table without an outline. */
  putBelow(isFurtherIn: boolean): boolean
  sort(descending: boolean): void
  pickAll(): void
}

/** Does what a key asks for; false for one that asks for nothing here. */
export function takeKey(event: KeyboardEvent, work: KeyWork): boolean {
  if (event.altKey) return takeAltKey(event, work)
  const { at, edit } = work
  const isCommand = event.ctrlKey || event.metaKey
  const next = moved(at, event, work)
  if (next !== null) work.goTo(next, event.shiftKey && next.place > 0)
  else if (at.place === 0 && event.key === 'Enter') work.openMenu(at.column)
  else if (event.key === 'Enter' || event.key === 'F2') edit.begin(null)
  else if (event.key === 'Tab' && at.place > 0) {
    // Out of the grid at its ends, as anywhere on a page.
    const column = at.column + (event.shiftKey ? -1 : 1)
    if (column < 0 || column >= work.columns) return false
    work.goTo({ ...at, column })
  } else if (event.key === 'Delete' || event.key === 'Backspace') edit.blank()
  else if (event.key === 'Escape') work.setAnchor(null)
  else if (isCommand && event.key.toLowerCase() === 'd') edit.fillDown()
  else if (isCommand && event.key.toLowerCase() === 'a') work.pickAll()
  else if (!isCommand && event.key.length === 1 && at.place > 0) edit.begin(event.key)
  else return false
  return true
}

/** With Alt: up and down sort, or with Shift move rows; left and right fold and unfold, or with Shift put rows further out and in. */
function takeAltKey(event: KeyboardEvent, work: KeyWork): boolean {
  const isUp = event.key === 'ArrowUp'
  if (isUp || event.key === 'ArrowDown') {
    if (event.shiftKey) work.move(isUp)
    else work.sort(!isUp)
    return true
  }
  if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return false
  const isRight = event.key === 'ArrowRight'
  return event.shiftKey ? work.putBelow(isRight) : work.folding.here(isRight)
}
