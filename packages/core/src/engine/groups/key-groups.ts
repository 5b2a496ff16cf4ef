import type { Cell } from '../../columns/index.js'
import { CellFault, isFaultStatus, Status } from '../../values/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { slotsOf } from '../storage/index.js'
import { BLANK_KEY, groupOfStatus } from './group-number.js'
import { Groups } from './groups.js'
import type { Key, KeyDictionary } from './key-dictionary.js'

/** Rows grouped by the values of some columns: what links, lookups by equality and `by` go by. */
export class KeyGroups extends Groups {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly #columns: readonly NodeId[]
  readonly #dictionary: KeyDictionary
  readonly #blankIsKey: boolean

  /** @param blankIsKey - whether rows with a blank key are a group of their own */
  constructor(id: NodeId, store: TableStore, columns: readonly NodeId[], dictionary: KeyDictionary, blankIsKey: boolean) {
    super(store)
    this.id = id
    this.#columns = columns
    this.sources = [...columns, store.rowsNode]
    this.#dictionary = dictionary
    this.#blankIsKey = blankIsKey
  }

  override get columns(): readonly NodeId[] {
    return this.#columns
  }

  protected override get keyBytes(): number {
    return this.#dictionary.byteLength
  }

  protected find(slot: number): number {
    const key = this.#keyOf(slot)
    return typeof key === 'object' ? key.none : this.#dictionary.enter(key)
  }

  /** The group of the rows with these cells in the columns; undefined when there is none, as for blanks and errors. */
  groupWith(cells: readonly Cell[]): number | undefined {
    if (cells.some((cell) => cell === null || cell instanceof CellFault)) return undefined
    const values = cells.map((cell) => (typeof cell === 'boolean' ? Number(cell) : (cell as number | string)))
    const [only] = values
    return this.#dictionary.idOf(values.length === 1 ? (only as Key) : values.map(keyPart).join(''))
  }

  /** Rows that hold the same listed text have the same key, so each text is looked up once. */
  protected override finder(): (slot: number) => number {
    const [only, second] = this.#columns
    const column = only === undefined || second !== undefined ? undefined : this.store.column(only)
    if (column === undefined || column.dictionarySize <= 1) return (slot) => this.find(slot)
    const known = new Int32Array(column.dictionarySize).fill(-1)
    return (slot) => {
      const code = column.statusAt(slot) === Status.value ? column.codeAt(slot) : -1
      if (code < 0) return this.find(slot)
      const group = known[code] as number
      if (group >= 0) return this.#dictionary.enterAgain(group)
      const found = this.find(slot)
      known[code] = found
      return found
    }
  }

  protected leave(group: number): void {
    this.#dictionary.leave(group)
  }

  protected *touched(pass: PropagationPass): Iterable<number> {
    for (const column of this.#columns) yield* slotsOf(pass.changedIn(column))
    yield* slotsOf(pass.rowsOf(this.store).inserted)
  }

  /** The key of a row, or what stands in place of a group. The leftmost error wins, and any error over a blank. */
  #keyOf(slot: number): Key | { readonly none: number } {
    const isSingle = this.#columns.length === 1
    let isBlank = false
    let several = ''
    for (const column of this.#columns) {
      const storage = this.store.column(column)
      const status = storage?.statusAt(slot) ?? Status.blank
      if (isFaultStatus(status)) return { none: groupOfStatus(status) }
      if (status === Status.blank) {
        isBlank = true
        several += '-;'
        continue
      }
      const value = storage?.valueAt(slot) as number | string
      if (isSingle) return value
      several += keyPart(value)
    }
    if (!isBlank) return several
    if (!this.#blankIsKey) return { none: BLANK_KEY }
    return isSingle ? BLANK_AS_KEY : several
  }
}

/** One value of a key of several: texts with their length before them, so that no two keys are written alike. */
function keyPart(value: number | string): string {
  return typeof value === 'string' ? `${value.length}:${value};` : `${value};`
}

/** A blank among the keys of one column: no column holds this number. */
const BLANK_AS_KEY = Number.NaN
