import type { SlimView } from 'mellow-abacus'
import { useFollowed } from './follow.js'

/** How many calls have changed the workbook: for a component that shows something of all of it. */
export function useRevision(book: SlimView): number {
  return useFollowed(book, '', () => book.revision)
}
