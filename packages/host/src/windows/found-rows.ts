import type { RowStand, RowsToShow, WindowOutline } from '@mellow-abacus/session'
import { decidingColumns, shownRowsOf, type WorkbookView } from 'mellow-abacus'
import type { TouchedCells } from './touched-cells.js'

/** Rows in the order in which they are shown. */
interface Found {
  readonly ids: readonly number[]
  /** Where the row at an index stands in the outline; null where there is none. */
  readonly standAt: ((index: number) => RowStand) | null
}

/** All rows that are to be shown, wherever windows on them stand: found once for all of these, and again where something was touched. */
export class FoundRows {
  /** What is asked for, as text: rows of the same key are the same. */
  readonly key: string
  readonly #view: WorkbookView
  readonly #asked: RowsToShow
  /** Null where they are those of the table as they stand. */
  #found: Found | null = null
  /** Columns that decide which rows there are and in what order; null where only rows that come and go do. */
  #deciding: readonly { readonly table: string; readonly column: string }[] | null = null
  /** The revision at which they were so. */
  #revision = -1
  #seen: TouchedCells | null = null

  /** @throws Refusal for what there is not */
  constructor(view: WorkbookView, asked: RowsToShow) {
    this.key = JSON.stringify(asked)
    this.#view = view
    this.#asked = asked
    this.#findAll()
  }

  /** True where nothing has happened since they were found. */
  get isNew(): boolean {
    return this.#revision === this.#view.revision
  }

  get count(): number {
    return this.#found?.ids.length ?? this.#view.table(this.#asked.table).rowCount
  }

  /** Ids of the rows at places from one up to, not including, another. */
  ids(from: number, to: number): readonly number[] {
    if (this.#found !== null) return this.#found.ids.slice(from - 1, to - 1)
    const table = this.#view.table(this.#asked.table)
    const most = Math.max(0, Math.min(to, table.rowCount + 1) - from)
    return Array.from({ length: most }, (_, at) => table.idAt(from + at) as number)
  }

  /** Where the rows at such places stand in the outline; null where there is none. */
  stands(from: number, to: number): readonly RowStand[] | null {
    const found = this.#found
    const standAt = found?.standAt
    return standAt == null ? null : (found as Found).ids.slice(from - 1, to - 1).map((_, at) => standAt(from - 1 + at))
  }

  /** The place of a row; 0 where it is not among them. */
  placeOf(id: number): number {
    return this.#all().indexOf(id) + 1
  }

  /** The place of the next of some rows behind a place, going on from the beginning at the end; 0 where none is among them. */
  nextOf(ids: ReadonlySet<number>, behind: number): number {
    const all = this.#all()
    const next = all.findIndex((id, at) => at >= behind && ids.has(id))
    return (next >= 0 ? next : all.findIndex((id) => ids.has(id))) + 1
  }

  /**
   * Finds them again where what was touched has a part in it.
   *
   * @throws Refusal where what is asked for is no more
   */
  refresh(touched: TouchedCells): void {
    if (this.#seen === touched) return
    const isOther = touched.hasRowsOf(this.#asked.table) || this.#deciding?.some((one) => touched.hasColumn(one)) === true
    if (touched.definitions) this.#findAll()
    else if (isOther) this.#found = foundRows(this.#view, this.#asked)
    this.#revision = this.#view.revision
    this.#seen = touched
  }

  #findAll(): void {
    const { outline, ...asked } = this.#asked
    const isPlain = asked.where === undefined && asked.order === undefined && outline === undefined
    this.#deciding = isPlain ? null : decidingColumns(this.#view, { ...asked, outline: outline !== undefined })
    this.#found = foundRows(this.#view, this.#asked)
    this.#revision = this.#view.revision
  }

  #all(): readonly number[] {
    return this.#found?.ids ?? this.#view.table(this.#asked.table).rowIds()
  }
}

/** Finds rows; null for those of a table as they stand. */
function foundRows(view: WorkbookView, { table, where, order, outline }: RowsToShow): Found | null {
  if (where === undefined && order === undefined && outline === undefined) return null
  const found = shownRowsOf(view, {
    ...{ table, columns: [], outline: outline !== undefined },
    ...(where !== undefined && { where }),
    ...(order !== undefined && { order }),
  })
  if (outline === undefined || found.depths === null) return { ids: found.ids(), standAt: null }
  return folded(found.ids(), found.depths, outline)
}

/** Rows of an outline without those below rows that are folded. */
function folded(
  ids: readonly number[],
  depths: Int32Array,
  { levels = Number.POSITIVE_INFINITY, turned = [] }: WindowOutline,
): Found {
  const ends = endsOf(depths)
  const isTurned = new Set(turned)
  const kept: number[] = []
  const standAt = (at: number): RowStand => {
    const [depth, below] = [depths[at] as number, (ends[at] as number) - at - 1]
    return { depth, below, isFolded: below > 0 && depth + 1 >= levels !== isTurned.has(ids[at] as number) }
  }
  for (let at = 0; at < ids.length; ) {
    kept.push(at)
    at = standAt(at).isFolded ? (ends[at] as number) : at + 1
  }
  return { ids: kept.map((at) => ids[at] as number), standAt: (index) => standAt(kept[index] as number) }
}

/** Of each row, the index behind the last one below it. */
function endsOf(depths: Int32Array): Int32Array {
  const ends = new Int32Array(depths.length).fill(depths.length)
  const open: number[] = []
  for (const [at, depth] of depths.entries()) {
    while (open.length > 0 && (depths[open.at(-1) as number] as number) >= depth) ends[open.pop() as number] = at
    open.push(at)
  }
  return ends
}
