import type { CellValue, Column } from '../../columns/index.js'

/** Cells of one column as they are given; left out is blank. */
export type GivenCells = readonly (CellValue | undefined)[]

/** Columns by name, of one length. */
type Block<Cells> = Readonly<Record<string, Cells>>

const storages = new WeakMap<object, ReadonlyMap<string, Column>>()

/**
 * A block as change sets carry it. Finished storage stays beside it, for redo and journals; whoever looks at the block itself,
 * `structuredClone` and JSON among them, finds plain values, made when they are asked for.
 */
export function carriedBlock(entries: Iterable<readonly [name: string, cells: GivenCells | Column]>): Block<GivenCells> {
  const block = {}
  const columns = new Map<string, Column>()
  for (const [name, cells] of entries) {
    const isStorage = 'toJSON' in cells
    if (isStorage) columns.set(name, cells)
    const read = isStorage ? { get: () => cells.toJSON() } : { value: cells }
    Object.defineProperty(block, name, { enumerable: true, ...read })
  }
  storages.set(block, columns)
  return block
}

/** The columns of a block, with finished storage where it has any. */
export function blockEntries<Cells>(block: Block<Cells>): [name: string, cells: Cells | Column][] {
  const columns = storages.get(block)
  return Object.keys(block).map((name) => [name, columns?.get(name) ?? (block[name] as Cells)])
}
