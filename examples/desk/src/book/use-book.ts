import { createContext, useContext, useEffect, useState, useSyncExternalStore } from 'react'
import type { BookState, DeskBook } from './desk-book'

/** The workbook that the page is about. */
export const BookContext = createContext<DeskBook | null>(null)

/** The workbook of the page. */
export function useDeskBook(): DeskBook {
  const book = useContext(BookContext)
  if (book === null) throw new Error('there is no workbook around this component')
  return book
}

/** All that is known of the workbook, followed. */
export function useBookState(): BookState {
  const book = useDeskBook()
  return useSyncExternalStore(book.subscribe, book.current)
}

/**
 * An answer of the workbook, asked for again when `key` is another. While a new one is on its way the former one stays.
 *
 * @param key - says what is asked; null to ask nothing
 */
export function useAnswer<Answer>(
  key: string | null,
  ask: () => Promise<Answer>,
): { readonly answer: Answer | null; readonly fault: string | null } {
  const [state, setState] = useState<{ answer: Answer | null; fault: string | null }>({ answer: null, fault: null })
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says what is asked.
  useEffect(() => {
    if (key === null) return setState({ answer: null, fault: null })
    let isOld = false
    ask().then(
      (answer) => void (isOld || setState({ answer, fault: null })),
      (error: Error) => void (isOld || setState({ answer: null, fault: error.message })),
    )
    return () => {
      isOld = true
    }
  }, [key])
  return state
}
