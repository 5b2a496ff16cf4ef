import type { TableFacts } from '@mellow-abacus/session'
import { type PointerEvent, useState } from 'react'
import { createPortal } from 'react-dom'
import type { DeskBook } from '../book/desk-book'

/** Pixels that the pointer moves before a bead is dragged and not pressed. */
const LEAST_MOVE = 5

/** A string that is being drawn from a bead to that of another table, in pixels of the page. */
interface DrawnString {
  readonly from: readonly [x: number, y: number]
  readonly to: readonly [x: number, y: number]
  /** What is under the pointer, if a link can lead there. */
  readonly target: LinkTarget | null
}

interface LinkTarget {
  readonly table: string
  readonly column: string
}

/** Draws links from bead to bead: from one of the rod at hand to one of another table in the frame. */
export function useLinkString({
  book,
  table,
  onPick,
}: {
  book: DeskBook
  table: TableFacts
  /** Called for a bead that was pressed and not dragged. */
  onPick: (place: number) => void
}): {
  readonly begin: (event: PointerEvent<SVGElement>, column: string, place: number) => void
  readonly string: React.ReactNode
} {
  const [drawn, setDrawn] = useState<DrawnString | null>(null)
  const begin = (event: PointerEvent<SVGElement>, column: string, place: number): void => {
    if (event.button !== 0) return
    event.stopPropagation()
    const bead = event.currentTarget
    const box = bead.getBoundingClientRect()
    const from = [box.x + box.width / 2, box.y + box.height / 2] as const
    const [x, y] = [event.clientX, event.clientY]
    const controller = new AbortController()
    const on = <Name extends keyof WindowEventMap>(name: Name, act: (event: WindowEventMap[Name]) => void): void =>
      window.addEventListener(name, act, { signal: controller.signal })
    const finish = (): void => {
      controller.abort()
      setDrawn(null)
    }
    let isDragged = false
    on('pointermove', (move) => {
      isDragged ||= Math.hypot(move.clientX - x, move.clientY - y) > LEAST_MOVE
      if (isDragged && book.may.define) setDrawn({ from, to: [move.clientX, move.clientY], target: targetAt(move, table.name) })
    })
    on('pointerup', (up) => {
      finish()
      if (!isDragged) return onPick(place)
      const target = book.may.define ? targetAt(up, table.name) : null
      if (target !== null) void linkColumns(book, table.name, column, target)
    })
    on('pointercancel', finish)
    on('keydown', (key) => {
      if (key.key === 'Escape') finish()
    })
  }
  return { begin, string: drawn === null ? null : createPortal(<LinkString {...drawn} />, document.body) }
}

function LinkString({ from: [x1, y1], to: [x2, y2], target }: DrawnString) {
  return (
    <div className="link-string" aria-hidden="true">
      <svg width="100%" height="100%" aria-hidden="true">
        <path className="thread" d={`M${x1} ${y1}C${x1} ${y1 - 60} ${x2} ${y2 - 60} ${x2} ${y2}`} />
        <circle className={target === null ? '' : 'over'} cx={x2} cy={y2} r={6} />
      </svg>
      <p style={{ transform: `translate(${x2 + 12}px, ${y2 + 8}px)` }}>
        {target === null ? 'let go over a bead of another table' : `leads to ${target.table}.${target.column}`}
      </p>
    </div>
  )
}

/** The bead of another table under the pointer. */
function targetAt({ clientX, clientY }: { readonly clientX: number; readonly clientY: number }, own: string): LinkTarget | null {
  const bead = document.elementFromPoint(clientX, clientY)?.closest('[data-bead]')
  const at = bead?.getAttribute('data-bead')
  if (at == null) return null
  const target = JSON.parse(at) as LinkTarget
  return target.table === own ? null : target
}

/** Links a column to the key of another table. */
export function linkColumns(
  book: DeskBook,
  table: string,
  column: string,
  { table: to, column: key }: LinkTarget,
): Promise<boolean> {
  return book.apply({ op: 'add-link', table, columns: [column], to, keys: [key] }, `${column} leads to ${to}`)
}
