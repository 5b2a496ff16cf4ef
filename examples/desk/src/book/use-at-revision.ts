import { useRef } from 'react'

/**
 * Something computed from the workbook, again only when the workbook has moved on or `key` is another: the workbook is
 * read, not passed, so its revision is what says that it is not what it was.
 */
export function useAtRevision<Value>(revision: number, key: string, compute: () => Value): Value {
  const kept = useRef<{ revision: number; key: string; value: Value } | null>(null)
  if (kept.current === null || kept.current.revision !== revision || kept.current.key !== key) {
    kept.current = { revision, key, value: compute() }
  }
  return kept.current.value
}
