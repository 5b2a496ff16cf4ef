import { printName } from 'mellow-abacus/display'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { BEAD_WORDS, Bead, beadKind } from '../look/bead'
import { counted, countedOf } from '../look/cell-text'
import { linkedTogether } from './linked-together'
import { type MapBead, mapLayout, threadPath } from './map-layout'

/** Which way threads are followed from the bead that is looked at. */
type Way = 'both' | 'upstream' | 'downstream'
const WAYS: Readonly<Record<Way, string>> = {
  both: 'both ways',
  upstream: 'what it is made of',
  downstream: 'what is made of it',
}

/**
 * The map of the model: every column of every table as a bead on its rod. Looked at one of them, all that it is made of and all
 * that is made of it, as far as it goes, are threads, and the others step back.
 */
export function ModelMap({ onTravel }: { onTravel: (to: { readonly table: string; readonly column: string }) => void }) {
  const { session } = useDeskBook()
  const { facts, findings } = useBookState()
  const [sought, setSought] = useState('')
  const [focus, setFocus] = useState<string | null>(null)
  const [way, setWay] = useState<Way>('both')
  const [place, width] = useWidth()
  const tables = useMemo(() => linkedTogether(facts.tables), [facts.tables])
  const { rods, beads, height } = useMemo(() => mapLayout(tables, width), [tables, width])
  const known = focus !== null && beads.has(focus) ? focus : null
  const { answer } = useAnswer(known === null ? null : JSON.stringify([known, facts.revision]), () => session.trace(known ?? ''))
  const threads = useMemo(() => {
    if (answer === null || answer.column !== known) return []
    const up = way === 'downstream' ? [] : answer.upstream.map((edge) => ({ ...edge, kind: 'source' }))
    const down = way === 'upstream' ? [] : answer.downstream.map((edge) => ({ ...edge, kind: 'dependent' }))
    return [...up, ...down].flatMap(({ from, to, kind }) => {
      const [one, other] = [beads.get(from), beads.get(to)]
      return one === undefined || other === undefined ? [] : [{ key: `${kind} ${from} ${to}`, one, other, kind }]
    })
  }, [answer, known, way, beads])
  const near = new Set([known, ...threads.flatMap(({ one, other }) => [one.address, other.address])])
  const words = sought.trim().toLowerCase()
  const isFound = ({ column, table }: MapBead): boolean =>
    words !== '' && `${table.name}.${column.name}`.toLowerCase().includes(words)
  const found = [...beads.values()].filter(isFound)
  const flagged = new Set(
    findings.flatMap(({ table, column, severity }) =>
      severity === 'hint' || table === undefined || column === undefined ? [] : [`${printName(table)}.${printName(column)}`],
    ),
  )
  const stateOf = (bead: MapBead): string =>
    [
      bead.address === known ? 'on' : '',
      isFound(bead) ? 'found' : '',
      (known !== null && !near.has(bead.address)) || (words !== '' && found.length > 0 && !isFound(bead)) ? 'far' : '',
    ].join(' ')
  return (
    <section className="model-map" aria-label="Map of the model">
      <div className="row map-head">
        <input
          type="search"
          aria-label="Find a column on the map"
          placeholder="Find a column"
          value={sought}
          onChange={(event) => setSought(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && found[0] !== undefined) setFocus(found[0].address)
          }}
        />
        <select aria-label="Which threads" value={way} onChange={(event) => setWay(event.target.value as Way)}>
          {Object.entries(WAYS).map(([key, text]) => (
            <option key={key} value={key}>
              {text}
            </option>
          ))}
        </select>
        <output className="soft" aria-live="polite">
          {known === null
            ? 'Press a bead to see what it is made of, and what is made of it.'
            : answer === null
              ? ''
              : `${known}: made of ${countedOf(ends(answer.upstream, 'from'), 'column')}, ${countedOf(ends(answer.downstream, 'to'), 'column')} made of it`}
        </output>
        {known !== null && (
          <button type="button" onClick={() => onTravel(travelTo(beads.get(known) as MapBead))}>
            Go there
          </button>
        )}
      </div>
      <div className="map-plane" ref={place}>
        <div style={{ height }} className="map-sheet">
          <svg width={width} height={height} aria-hidden="true">
            {rods.flatMap(({ table, lines }) =>
              lines.map(({ y, from, to }) => (
                <line key={`${table.name} ${y}`} className="rod-line" x1={from} x2={to} y1={y} y2={y} />
              )),
            )}
            {threads.map(({ key, one, other, kind }) => (
              <path key={key} className={`thread ${kind}`} d={threadPath(one, other)} />
            ))}
          </svg>
          {rods.map(({ table, top }) => (
            <div key={table.name} className="map-table" style={{ top }}>
              <b>{table.name}</b>
              <small>
                {counted(table.rows)}
                {table.links.length > 0 && ` · ⌁ ${[...new Set(table.links.map(({ to }) => to))].join(', ')}`}
              </small>
            </div>
          ))}
          {[...beads.values()].map((bead) => (
            <MapButton
              key={bead.address}
              bead={bead}
              state={stateOf(bead)}
              isFlagged={flagged.has(bead.address)}
              onPress={() => setFocus(bead.address === known ? null : bead.address)}
              onOpen={() => onTravel(travelTo(bead))}
            />
          ))}
        </div>
      </div>
    </section>
  )
}

function MapButton({
  bead,
  state,
  isFlagged,
  onPress,
  onOpen,
}: {
  bead: MapBead
  state: string
  isFlagged: boolean
  onPress: () => void
  onOpen: () => void
}) {
  const { column, table, x, y } = bead
  const kind = beadKind(column)
  const flag = isFlagged ? ', has a finding' : ''
  return (
    <button
      type="button"
      className={`map-bead ${kind} ${state}`}
      style={{ left: x, top: y }}
      aria-pressed={state.startsWith('on')}
      aria-label={`${table.name}.${column.name}, ${BEAD_WORDS[kind]}${flag}`}
      title={column.formula ?? BEAD_WORDS[kind]}
      onClick={onPress}
      onDoubleClick={onOpen}
    >
      <svg width={24} height={24} aria-hidden="true">
        <Bead kind={kind} x={12} y={12} r={7} />
        {isFlagged && <path className="bead-flag" d="M19 1l4.5 8h-9z" />}
      </svg>
      <span>{column.name}</span>
    </button>
  )
}

const travelTo = ({ table, column }: MapBead): { table: string; column: string } => ({ table: table.name, column: column.name })

/** How many columns there are at the ends of edges. */
const ends = (edges: readonly { readonly from: string; readonly to: string }[], end: 'from' | 'to'): number =>
  new Set(edges.map((edge) => edge[end])).size

/** The width of an element, followed. */
function useWidth(): [React.RefObject<HTMLDivElement | null>, number] {
  const place = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(800)
  useEffect(() => {
    const element = place.current
    if (element === null) return
    const watch = new ResizeObserver(() => setWidth(element.clientWidth))
    watch.observe(element)
    return () => watch.disconnect()
  }, [])
  return [place, width]
}
