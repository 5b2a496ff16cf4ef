import { useEffect } from 'react'
import type { DeskBook } from './book/desk-book'
import type { LookedAt } from './grid/grid-calls'

/** Milliseconds at a place before the others are told of it. */
const APPEARING_MS = 250

/** True for what has an undo of its own. */
function isText(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.matches('input, textarea, select') || target.classList.contains('formula-editor'))
  )
}

/** Keys that hold on the whole page. */
export function usePageKeys({
  undo,
  redo,
  find,
  save,
}: {
  undo: () => void
  redo: () => void
  find: () => void
  save: () => void
}): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey)) return
      const key = event.key.toLowerCase()
      if (key === 'k') find()
      else if (key === 's') save()
      else if (key === 'z' && !isText(event.target)) (event.shiftKey ? redo : undo)()
      else if (key === 'y' && !isText(event.target)) redo()
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
}

/** Tells the others where one is, when one has been there for a moment. */
export function useAppearing(book: DeskBook, table: string | null, { row, column }: LookedAt): void {
  useEffect(() => {
    const place = table === null ? null : { table, ...(row !== null && { row }), ...(column !== null && { column }) }
    const timer = setTimeout(() => void book.appear(place), APPEARING_MS)
    return () => clearTimeout(timer)
  }, [book, table, row, column])
}

/** Has the browser ask before the page is left with work that is kept nowhere. */
export function useWarning(isUnsaved: boolean): void {
  useEffect(() => {
    if (!isUnsaved) return
    const warn = (event: BeforeUnloadEvent): void => event.preventDefault()
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [isUnsaved])
}
