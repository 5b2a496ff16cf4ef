import { CellFault, type QueryColumn } from 'mellow-abacus'
import { Status } from 'mellow-abacus/storage'

/** What a format could not hold as it is. */
export type LossKind = 'misfit' | 'error' | 'error-text' | 'long-text' | 'early-date'

/** Cells of a column that a format could not hold, and an example. */
export interface Loss {
  readonly column: string
  readonly kind: LossKind
  readonly cells: number
  readonly sample: string
}

/** Counts what a format cannot hold, by column and kind. */
export class Losses {
  readonly #known: Map<string, { column: string; kind: LossKind; cells: number; sample: string }> = new Map()

  /** One more cell. */
  note(column: string, kind: LossKind, sample: string): void {
    const key = `${kind} ${column}`
    const known = this.#known.get(key)
    if (known === undefined) this.#known.set(key, { column, kind, cells: 1, sample })
    else known.cells++
  }

  /** Notes a cell that holds no value: an error, or a misfit whose text is not kept. */
  noteFault(column: QueryColumn, slot: number): void {
    const cell = column.storage?.read(slot)
    if (!(cell instanceof CellFault)) return
    const isMisfit = !column.calculated && cell.text !== undefined
    this.note(column.name, isMisfit ? 'misfit' : 'error', isMisfit ? (cell.text as string) : cell.code)
  }

  /** Notes the errors among some cells of a column, for a format where they are texts. */
  noteErrors(column: QueryColumn, slots: Int32Array): void {
    if ((column.storage?.faultCount() ?? 0) === 0) return
    for (const slot of slots) {
      const cell = column.storage?.read(slot)
      if (cell instanceof CellFault) this.note(column.name, 'error-text', String(cell))
    }
  }

  /** What was noted. */
  list(): Loss[] {
    return [...this.#known.values()]
  }
}

/** Whether a slot holds a value; a slot with an error is noted as lost. */
export function holdsValue(column: QueryColumn, slot: number, losses: Losses): boolean {
  const status = column.storage?.statusAt(slot) ?? Status.blank
  if (status > Status.blank) losses.noteFault(column, slot)
  return status === Status.value
}
