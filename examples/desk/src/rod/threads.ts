import type { TableView } from 'mellow-abacus'

/** A thread between two beads of the rod, by their places. */
export interface Thread {
  readonly from: number
  readonly to: number
  /** `source` threads lead to what the picked bead reads, `dependent` ones to what reads it. */
  readonly kind: 'source' | 'dependent'
}

/** The threads of a picked bead, all the way: sources of sources and dependents of dependents too. */
export function threadsOf(table: TableView, picked: string | null): Thread[] {
  if (picked === null) return []
  const places = new Map(table.columns.map((column, place) => [column.name, place]))
  const walk = (kind: Thread['kind'], next: (name: string) => string[]): Thread[] => {
    const threads: Thread[] = []
    const open = [picked]
    const seen = new Set(open)
    for (let name = open.pop(); name !== undefined; name = open.pop()) {
      for (const other of next(name)) {
        threads.push({ from: places.get(name) ?? 0, to: places.get(other) ?? 0, kind })
        if (!seen.has(other)) open.push(other)
        seen.add(other)
      }
    }
    return threads
  }
  return [
    ...walk('source', (name) => table.column(name).sources()),
    ...walk('dependent', (name) => table.column(name).dependents()),
  ]
}
