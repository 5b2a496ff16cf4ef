import { type BookSnapshot, type SlimWorkbook, type SnapshotCells, Workbook } from '../../src/index.js'
import type { StoredChunk } from '../../src/storage.js'

/** Stands for the file of a workbook: takes what is unsaved, and gives it back as bytes would, shared with nobody. */
export class StoredBook {
  readonly #chunks: Map<string, StoredChunk> = new Map()
  readonly #texts: Map<number, readonly string[]> = new Map()
  readonly #misfits: Map<number, readonly (readonly [number, string])[]> = new Map()
  readonly #marks: Map<string, Uint8Array> = new Map()
  readonly #orders: Map<number, Int32Array> = new Map()
  #snapshot = ''
  /** Parts that were read. */
  readonly read: string[] = []

  save(book: SlimWorkbook): void {
    const taken = book.snapshot()
    this.#snapshot = JSON.stringify(taken.snapshot)
    for (const { column, chunks, side, marks, replacesCells, replacesMarks } of taken.unsaved) {
      if (replacesCells) forget(this.#chunks, column)
      if (replacesMarks) forget(this.#marks, column)
      for (const { index, chunk } of chunks) this.#chunks.set(`${column} ${index}`, structuredClone(chunk))
      this.#texts.set(column, [...side.texts()])
      this.#misfits.set(column, [...side.misfits()])
      for (const [block, bytes] of marks) this.#marks.set(`${column} ${block}`, bytes.slice())
    }
    this.#orders.clear()
    for (const [table, order] of taken.orders) this.#orders.set(table, order.slice())
    taken.markSaved()
  }

  open(steps: Workbook['steps'], mostAtOnce?: number): Workbook {
    return Workbook.open(this.snapshot, this.cells, { ...steps, ...(mostAtOnce !== undefined && { mostAtOnce }) })
  }

  get snapshot(): BookSnapshot {
    return JSON.parse(this.#snapshot)
  }

  get cells(): SnapshotCells {
    return {
      cells: (column) => ({
        chunk: (index) => {
          this.read.push(`${column} ${index}`)
          const chunk = this.#chunks.get(`${column} ${index}`)
          return chunk === undefined ? undefined : structuredClone(chunk)
        },
        texts: () => this.#texts.get(column) ?? [],
        misfits: () => this.#misfits.get(column) ?? [],
      }),
      marks: (column, block) => this.#marks.get(`${column} ${block}`)?.slice(),
      order: (table) => (this.#orders.get(table) as Int32Array).slice(),
    }
  }
}

function forget(parts: Map<string, unknown>, column: number): void {
  for (const key of parts.keys()) if (key.startsWith(`${column} `)) parts.delete(key)
}
