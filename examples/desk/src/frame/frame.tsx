import type { TableFacts } from '@mellow-abacus/session'
import { memo } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import { Bead, beadKind } from '../look/bead'
import { counted } from '../look/cell-text'
import type { Defined } from '../views/define-dialog'
import { linkedTogether } from './linked-together'

/** What the page shows in the middle. */
export type Shown =
  | { readonly kind: 'table'; readonly name: string }
  | { readonly kind: 'report'; readonly name: string }
  | { readonly kind: 'chart'; readonly name: string }
  /** The map of all tables; it has no name. */
  | { readonly kind: 'map'; readonly name: '' }

const [BEAD_STEP, MOST_BEADS] = [18, 9]

/** What the frame asks of the page. */
export interface FrameCalls {
  show(shown: Shown): void
  newTable(): void
  newView(kind: 'report' | 'chart'): void
  define(first: Defined): void
}

/** All rods of the workbook, linked tables next to each other; below them its reports, charts, functions and named values. */
export const Frame = memo(function Frame({ shown, calls }: { shown: Shown; calls: FrameCalls }) {
  const { may } = useDeskBook()
  const { facts, findings } = useBookState()
  const isOn = (kind: Shown['kind'], name: string): boolean => shown.kind === kind && shown.name === name
  const marked = new Set(findings.flatMap(({ table, severity }) => (table === undefined || severity === 'hint' ? [] : [table])))
  return (
    <nav className="frame" aria-label="Frame">
      <div className="frame-title">
        <h2>tables</h2>
        {facts.tables.length > 0 && (
          <button
            type="button"
            className="quiet-button"
            aria-pressed={isOn('map', '')}
            onClick={() => calls.show({ kind: 'map', name: '' })}
          >
            map
          </button>
        )}
      </div>
      <ul>
        {linkedTogether(facts.tables).map((table) => (
          <li key={table.name}>
            <button
              type="button"
              className={`frame-table ${isOn('table', table.name) ? 'on' : ''}`}
              aria-current={isOn('table', table.name) ? 'page' : undefined}
              onClick={() => calls.show({ kind: 'table', name: table.name })}
            >
              <span className="frame-name">{table.name}</span>
              <small>
                {marked.has(table.name) && <span className="flag">▲ </span>}
                {counted(table.rows)}
              </small>
              <ShortRod table={table} />
              {table.links.length > 0 && (
                <small className="frame-links">⌁ {[...new Set(table.links.map(({ to }) => to))].join(', ')}</small>
              )}
            </button>
          </li>
        ))}
      </ul>
      {may.define && (
        <button type="button" className="quiet-button" onClick={calls.newTable}>
          + table
        </button>
      )}
      {(['report', 'chart'] as const).map((kind) => {
        const names = facts[`${kind}s`].map(({ name }) => name)
        return (
          <div key={kind}>
            <h2>{kind}s</h2>
            <ul>
              {names.map((name) => (
                <li key={name}>
                  <button
                    type="button"
                    className={`frame-view ${isOn(kind, name) ? 'on' : ''}`}
                    aria-current={isOn(kind, name) ? 'page' : undefined}
                    onClick={() => calls.show({ kind, name })}
                  >
                    <span aria-hidden="true">{kind === 'report' ? '▤' : '∿'}</span> {name}
                  </button>
                </li>
              ))}
            </ul>
            {may.define && facts.tables.length > 0 && (
              <button type="button" className="quiet-button" onClick={() => calls.newView(kind)}>
                + {kind}
              </button>
            )}
          </div>
        )
      })}
      {facts.functions.length > 0 && (
        <>
          <h2>functions</h2>
          <ul>
            {facts.functions.map(({ name, parameters, form, formula, note }) => (
              <li key={name}>
                <button
                  type="button"
                  className="frame-view frame-value"
                  title={`${form} = ${formula}${note === null ? '' : `\n${note}`}`}
                  onClick={() =>
                    calls.define({
                      ...{ kind: 'function', table: '', name, formula, parameters },
                      ...(note !== null && { note }),
                    })
                  }
                >
                  {name} <small>{form.slice(name.length)}</small>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
      {facts.values.length > 0 && (
        <>
          <h2>values</h2>
          <ul>
            {facts.values.map(({ name, value, formula }) => (
              <li key={name}>
                <button
                  type="button"
                  className="frame-view frame-value"
                  title={formula ?? undefined}
                  onClick={() => calls.define({ kind: 'value', table: '', name, formula: formula ?? String(value ?? '') })}
                >
                  {name} <small>{typeof value === 'object' ? '' : String(value)}</small>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </nav>
  )
})

/** The rod of a table, small: its first beads. */
const ShortRod = memo(function ShortRod({ table }: { table: TableFacts }) {
  const columns = table.columns.slice(0, MOST_BEADS)
  const more = table.columns.length - columns.length
  return (
    <svg className="short-rod" width={192} height={16} aria-hidden="true">
      <line className="rod-line" x1={0} x2={192} y1={8} y2={8} />
      {columns.map((column, at) => (
        <g key={column.name} data-bead={JSON.stringify({ table: table.name, column: column.name })}>
          <circle className="bead-reach" cx={8 + at * BEAD_STEP} cy={8} r={9} />
          <Bead kind={beadKind(column)} x={8 + at * BEAD_STEP} y={8} r={4.5} />
        </g>
      ))}
      {more > 0 && (
        <text className="more-beads" x={192} y={12}>
          +{more}
        </text>
      )}
    </svg>
  )
})
