import type { TableView } from 'mellow-abacus'
import { type KeyboardEvent, useRef } from 'react'
import { threadsOf } from './threads'

/** Distance between two beads, and where the rod runs, in units of the drawing. */
const STEP = 104
const ROD_Y = 66
const BEAD = 11

/** The rod of a table: its columns as beads in order, threads from the picked one to its sources and dependents. */
export function Rod({ table, picked, onPick }: { table: TableView; picked: string | null; onPick: (column: string) => void }) {
  const { columns } = table
  const place = useRef<HTMLDivElement>(null)
  const width = columns.length * STEP
  const threads = threadsOf(table, picked)
  const touched = new Set(threads.flatMap(({ from, to }) => [from, to]))

  const move = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (by === 0) return
    event.preventDefault()
    const focused =
      event.target instanceof HTMLElement ? event.target.closest<HTMLElement>('[data-bead]')?.dataset.bead : undefined
    const at = columns.findIndex((column) => column.name === (focused ?? picked))
    const next = columns[Math.min(columns.length - 1, Math.max(0, at + by))]
    if (next === undefined) return
    onPick(next.name)
    place.current?.querySelector<HTMLElement>(`[data-bead="${CSS.escape(next.name)}"]`)?.focus()
  }

  return (
    <section className="rod" aria-label={`Columns of ${table.name}`} ref={place}>
      <svg width={width} height={112} aria-hidden="true">
        <line className="rod-line" x1={6} x2={width - 6} y1={ROD_Y} y2={ROD_Y} />
        {threads.map(({ from, to, kind }) => (
          <path key={`${kind} ${from} ${to}`} className={`thread ${kind}`} d={arc(from, to)} />
        ))}
      </svg>
      <div className="beads" role="toolbar" aria-label="beads" onKeyDown={move}>
        {columns.map((column, index) => {
          const isPicked = column.name === picked
          const finding = column.findings().find((one) => one.severity !== 'hint')
          const state = column.formula === null ? 'source' : 'calculated'
          return (
            <button
              type="button"
              key={column.name}
              data-bead={column.name}
              className={`bead ${state} ${column.properties.hidden === true ? 'hidden-bead' : ''} ${isPicked ? 'picked' : ''} ${picked !== null && !isPicked && !touched.has(index) ? 'apart' : ''}`}
              aria-pressed={isPicked}
              tabIndex={isPicked || (picked === null && index === 0) ? 0 : -1}
              title={column.formula ?? 'source column'}
              onClick={() => onPick(column.name)}
            >
              <span className="bead-ball" aria-hidden="true" />
              {finding !== undefined && (
                <span className="bead-mark" role="img" aria-label="has a finding">
                  ▲
                </span>
              )}
              <span className="bead-name">{column.name}</span>
            </button>
          )
        })}
      </div>
    </section>
  )
}

/** An arc above the rod from one bead to another; the wider apart, the higher. */
function arc(from: number, to: number): string {
  const x1 = from * STEP + STEP / 2
  const x2 = to * STEP + STEP / 2
  const height = Math.min(54, 22 + Math.abs(to - from) * 9)
  return `M ${x1} ${ROD_Y - BEAD} C ${x1} ${ROD_Y - BEAD - height}, ${x2} ${ROD_Y - BEAD - height}, ${x2} ${ROD_Y - BEAD}`
}
