import type { Workbook } from 'mellow-abacus'
import { useEffect } from 'react'

/** Milliseconds of calculating between two looks at what the reader does. */
const A_SLICE = 8

/**
 * Calculates what a large edit has left stale, a slice at a time while there is nothing else to do. The cells shown are always
 * of now, since reading one calculates it first; this saves the reader from waiting for others.
 */
export function useFlushing(book: Workbook): void {
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const flush = (): void => {
      timer = book.flush(A_SLICE).isLeft ? setTimeout(flush, 0) : undefined
    }
    const end = book.on('change', () => {
      clearTimeout(timer)
      timer = setTimeout(flush, 0)
    })
    return () => {
      end()
      clearTimeout(timer)
    }
  }, [book])
}
