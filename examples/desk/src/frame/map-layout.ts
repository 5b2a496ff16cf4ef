import type { TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'

/** A bead of the map: which column it is, and where it stands, in pixels. */
export interface MapBead {
  readonly address: string
  readonly table: TableFacts
  readonly column: TableFacts['columns'][number]
  readonly x: number
  readonly y: number
}

/** A rod of the map; one with many beads goes on below. */
interface MapRod {
  readonly table: TableFacts
  readonly top: number
  readonly lines: readonly { readonly y: number; readonly from: number; readonly to: number }[]
}

/** The whole map. */
export interface MapLayout {
  readonly rods: readonly MapRod[]
  readonly beads: ReadonlyMap<string, MapBead>
  readonly height: number
}

/** Pixels left of the first bead for the name of the table, between beads, from one rod to the next, and from line to line. */
const [NAMES, STEP, BETWEEN, LINE] = [168, 112, 20, 56]
/** The room above a rod for its threads. */
const ABOVE = 26

/** Lays out the rods of all tables one below the other, within a width. */
export function mapLayout(tables: readonly TableFacts[], width: number): MapLayout {
  const perLine = Math.max(1, Math.floor((width - NAMES) / STEP))
  const beads = new Map<string, MapBead>()
  const rods: MapRod[] = []
  let top = 8
  for (const table of tables) {
    const many = Math.max(1, Math.ceil(table.columns.length / perLine))
    const lines = Array.from({ length: many }, (_, line) => {
      const count = Math.min(perLine, table.columns.length - line * perLine)
      const y = top + ABOVE + line * LINE
      return { y, from: NAMES, to: NAMES + Math.max(1, count) * STEP - STEP / 4 }
    })
    for (const [at, column] of table.columns.entries()) {
      const address = `${printName(table.name)}.${printName(column.name)}`
      const x = NAMES + (at % perLine) * STEP + STEP / 2 - STEP / 8
      beads.set(address, { address, table, column, x, y: lines[Math.floor(at / perLine)]?.y ?? top })
    }
    rods.push({ table, top, lines })
    top += ABOVE + many * LINE - LINE + BETWEEN + 24
  }
  return { rods, beads, height: top }
}

/** The way of a thread from one bead to another: an arc on one rod, a string between two. */
export function threadPath(from: MapBead, to: MapBead): string {
  if (from.y === to.y) {
    const high = from.y - 8 - Math.min(22, 8 + Math.abs(from.x - to.x) / 14)
    return `M${from.x} ${from.y - 8}C${from.x} ${high} ${to.x} ${high} ${to.x} ${to.y - 8}`
  }
  const down = from.y < to.y ? 1 : -1
  const [y1, y2] = [from.y + 8 * down, to.y - 8 * down]
  const bend = Math.min(60, Math.abs(y2 - y1) / 2)
  return `M${from.x} ${y1}C${from.x} ${y1 + bend * down} ${to.x} ${y2 - bend * down} ${to.x} ${y2}`
}
