import type { Finding } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'

/** What has become of findings. */
interface NewsOfFindings {
  readonly added: readonly Finding[]
  readonly removed: readonly Finding[]
  /** Findings that were there, with more rows now. */
  readonly grown: readonly Finding[]
  /** Lets the ledger know again what it knew before. */
  readonly takeBack: () => void
}

/** What is known of the findings of every column, so that a change can say which came and which went away. */
export class FindingLedger {
  readonly #known: Map<ColumnId, ReadonlyMap<string, Finding>> = new Map()

  /** What is known of each column that has findings. */
  snapshot(): [ColumnId, Finding[]][] {
    return [...this.#known].map(([id, findings]) => [id, [...findings.values()]])
  }

  /** Looks at some columns again; a column that is gone has no findings. */
  refresh(columns: ReadonlyMap<ColumnId, readonly Finding[]>): NewsOfFindings {
    const grown: Finding[] = []
    const added: Finding[] = []
    const removed: Finding[] = []
    const former: [ColumnId, ReadonlyMap<string, Finding> | undefined][] = []
    for (const [id, now] of columns) {
      const before = this.#known.get(id)
      if (before === undefined && now.length === 0) continue
      former.push([id, before])
      const after = new Map(now.map((one) => [keyOf(one), one]))
      for (const [key, one] of after) {
        const known = before?.get(key)
        if (known === undefined) added.push(one)
        else if ((one.rows ?? 0) > (known.rows ?? 0)) grown.push(one)
      }
      for (const [key, one] of before ?? []) if (!after.has(key)) removed.push(one)
      if (after.size === 0) this.#known.delete(id)
      else this.#known.set(id, after)
    }
    const takeBack = (): void => {
      for (const [id, findings] of former) {
        if (findings === undefined) this.#known.delete(id)
        else this.#known.set(id, findings)
      }
    }
    return { added, removed, grown, takeBack }
  }
}

/** Tells findings of a column apart; the same one with another row count is the same. */
function keyOf(one: Finding): string {
  return JSON.stringify([one.code, one.from, one.to])
}
