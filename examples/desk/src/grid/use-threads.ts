import type { TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useMemo } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { GHOST, type Ghost } from '../formula/ghost'
import type { Mark } from './rod-head'
import { type Reach, type Thread, threadsOf } from './threads'

/** The threads of the picked column and of the draft, and which columns have findings. */
export function useThreads({
  table,
  picked,
  reach,
  ghost,
  names,
}: {
  readonly table: TableFacts
  readonly picked: string | null
  readonly reach: Reach
  readonly ghost: Ghost | null
  /** Names of the columns that are shown. */
  readonly names: readonly string[]
}): { readonly threads: readonly Thread[]; readonly ghostThreads: readonly Thread[]; readonly marks: ReadonlyMap<string, Mark> } {
  const { session } = useDeskBook()
  const { facts, findings } = useBookState()
  const { answer } = useAnswer(picked === null ? null : `${table.name} ${picked} ${facts.revision}`, () =>
    session.trace(`${printName(table.name)}.${printName(picked ?? '')}`),
  )
  const threads = useMemo(() => {
    if (answer === null) return []
    const byAddress = new Map(names.map((name) => [`${printName(table.name)}.${printName(name)}`, name]))
    return threadsOf(answer, byAddress, reach)
  }, [answer, names, table.name, reach])
  const ghostThreads = useMemo(() => (ghost?.sources ?? []).map((from): Thread => ({ from, to: GHOST, kind: 'source' })), [ghost])
  const marks = useMemo(() => {
    const found = new Map<string, Mark>()
    for (const { table: of, column, severity } of findings) {
      if (of !== table.name || column === undefined || severity === 'hint') continue
      if (found.get(column) !== 'error') found.set(column, severity)
    }
    return found
  }, [findings, table.name])
  return { threads, ghostThreads, marks }
}
