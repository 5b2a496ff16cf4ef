import type { MetCell, SessionValue } from '@mellow-abacus/session'
import type { ChangeSet, Operation } from 'mellow-abacus'
import type { KeptStep } from './held-book.js'

/** Who changed a cell last. */
interface Writer {
  readonly revision: number
  readonly author: string | null
  readonly at: string | null
}

/** Cells that are remembered; of more, the older half is forgotten and looked for in the history. */
const MOST_CELLS = 50_000

type Step = Pick<ChangeSet, 'revision' | 'author' | 'at' | 'operations'>

/**
 * Remembers who typed over which source cells last, so that someone who edits what another one has changed meanwhile is told.
 * Steps from before it began are read from the history when they are asked for.
 */
export class RecentCells {
  readonly #history: (after: number) => Iterable<KeptStep>
  /** The one who wrote last comes last. */
  readonly #writers: Map<string, Writer> = new Map()
  /** The last revision of which nothing is remembered. */
  #since: number
  /** The revision that the author of the edit in hand saw; null for one that does not say. */
  #seen: number | null = null
  #met: readonly MetCell[] = []

  /**
   * @param revision - of the workbook now
   * @param history - the steps after a revision, the oldest first
   */
  constructor(revision: number, history: (after: number) => Iterable<KeptStep>) {
    this.#since = revision
    this.#history = history
  }

  /** Does an edit whose author saw a revision. */
  seeing<Done>(revision: number | undefined, edit: () => Done): Done {
    this.#met = []
    if (revision === undefined) return edit()
    if (revision < this.#since) this.#readFrom(revision)
    this.#seen = revision
    try {
      return edit()
    } finally {
      this.#seen = null
    }
  }

  /** Cells of the change noted last that others had changed since its author saw them. */
  get met(): readonly MetCell[] {
    return this.#met
  }

  /** Notes a change, and what it met. */
  note(change: ChangeSet): void {
    if (this.#seen !== null) this.#met = this.#metBy(change, this.#seen)
    this.#remember(change)
    if (this.#writers.size > MOST_CELLS) this.#forget()
  }

  #metBy({ operations, inverse, author }: ChangeSet, seen: number): MetCell[] {
    const theirs = new Map(cellsOf(inverse).map(({ key, value }) => [key, value]))
    return cellsOf(operations).flatMap(({ key, table, row, column, value }) => {
      const writer = this.#writers.get(key)
      const isOther = writer !== undefined && writer.revision > seen && (writer.author !== author || author === null)
      return isOther ? [{ table, row, column, theirs: theirs.get(key) ?? null, yours: value, ...writer }] : []
    })
  }

  #remember({ operations, revision, author, at }: Step): void {
    for (const { key } of cellsOf(operations)) {
      this.#writers.delete(key)
      this.#writers.set(key, { revision, author, at })
    }
  }

  #forget(): void {
    let left = this.#writers.size / 2
    for (const [key, { revision }] of this.#writers) {
      if (left-- <= 0) break
      this.#writers.delete(key)
      this.#since = Math.max(this.#since, revision)
    }
  }

  /** Takes in steps from before it began; what was remembered since is newer. */
  #readFrom(seen: number): void {
    const known = [...this.#writers]
    this.#writers.clear()
    for (const { author, at, ...step } of this.#history(seen)) {
      if (step.revision > this.#since) break
      this.#remember({ ...step, author: author === '' ? null : author, at: at === '' ? null : at })
    }
    for (const [key, writer] of known) {
      this.#writers.delete(key)
      this.#writers.set(key, writer)
    }
    this.#since = seen
  }
}

interface WrittenCell {
  readonly key: string
  readonly table: string
  readonly row: number
  readonly column: string
  readonly value: SessionValue
}

/** The cells that operations type over. */
function cellsOf(operations: readonly Operation[]): WrittenCell[] {
  return operations.flatMap((operation) =>
    operation.op !== 'set-cells'
      ? []
      : operation.cells.map(({ row, column, value }) => ({
          key: JSON.stringify([operation.table, row, column]),
          table: operation.table,
          row,
          column,
          value: value as SessionValue,
        })),
  )
}
