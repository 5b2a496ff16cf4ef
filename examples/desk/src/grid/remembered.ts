/** What a browser remembers of how tables are looked at: how wide columns were dragged, and which stay in sight. */
const PLACES = { widths: 'mellow-desk-widths', pinned: 'mellow-desk-pinned' } as const

interface Remembered {
  readonly widths: Readonly<Record<string, number>>
  readonly pinned: readonly string[]
}

/** What is remembered of a table; undefined where nothing is. */
export function remembered<Kind extends keyof Remembered>(kind: Kind, table: string): Remembered[Kind] | undefined {
  return all<Remembered[Kind]>(kind)[table]
}

/** Remembers something of a table. */
export function remember<Kind extends keyof Remembered>(kind: Kind, table: string, value: Remembered[Kind]): void {
  try {
    localStorage.setItem(PLACES[kind], JSON.stringify({ ...all(kind), [table]: value }))
  } catch {
    // A browser that keeps nothing forgets it with the page.
  }
}

function all<Value>(kind: keyof Remembered): Record<string, Value> {
  try {
    return JSON.parse(localStorage.getItem(PLACES[kind]) ?? '{}') as Record<string, Value>
  } catch {
    return {}
  }
}
