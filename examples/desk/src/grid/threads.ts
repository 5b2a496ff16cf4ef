import type { Trace } from 'mellow-abacus'

/** A thread between two beads of a rod, by the names of their columns. */
export interface Thread {
  readonly from: string
  readonly to: string
  /** `source` threads lead to what the picked column reads, `dependent` ones to what reads it. */
  readonly kind: 'source' | 'dependent'
}

/** How far threads are followed: to neighbours, one further, or all the way. */
export type Reach = 1 | 2 | 'all'

/** Threads that are drawn one by one on each side; of more, there is one cord with their number. */
const MOST_APART = 6

/** The threads of a picked column within its own table, as far as they are to reach. */
export function threadsOf(trace: Trace, columns: ReadonlyMap<string, string>, reach: Reach): Thread[] {
  const within = (depth: number): boolean => reach === 'all' || depth <= reach
  const own = (edges: Trace['upstream'], kind: Thread['kind']): Thread[] =>
    edges.flatMap(({ from, to, depth }) => {
      const [one, other] = [columns.get(from), columns.get(to)]
      return within(depth) && one !== undefined && other !== undefined ? [{ from: one, to: other, kind }] : []
    })
  return [...own(trace.upstream, 'source'), ...own(trace.downstream, 'dependent')]
}

/** Threads as they are drawn: those that are few one by one, many to one side of the picked bead as one cord. */
export function bundled(
  threads: readonly Thread[],
  picked: string,
  placeOf: (name: string) => number,
): {
  readonly single: readonly Thread[]
  readonly cords: readonly { readonly side: -1 | 1; readonly count: number; readonly to: string }[]
} {
  const at = placeOf(picked)
  const sideOf = ({ from, to }: Thread): -1 | 1 => (placeOf(from === picked ? to : from) < at ? -1 : 1)
  const cords = ([-1, 1] as const).flatMap((side) => {
    const own = threads.filter((thread) => sideOf(thread) === side)
    if (own.length <= MOST_APART) return []
    const ends = own.flatMap(({ from, to }) => [from, to]).filter((name) => name !== picked)
    const [to = picked] = ends.sort((a, b) => Math.abs(placeOf(b) - at) - Math.abs(placeOf(a) - at))
    return [{ side, count: own.length, to }]
  })
  const isCorded = (thread: Thread): boolean => cords.some(({ side }) => side === sideOf(thread))
  return { single: threads.filter((thread) => !isCorded(thread)), cords }
}
