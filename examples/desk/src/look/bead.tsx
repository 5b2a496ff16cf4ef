import type { ColumnFacts } from '@mellow-abacus/session'

/** What a bead tells of a column: whence its values come. */
export type BeadKind = 'source' | 'calculated' | 'stale' | 'paused' | 'stamp' | 'draft'

/** The bead of a column. */
export function beadKind({ calculated, state, formula }: ColumnFacts): BeadKind {
  if (state !== null) return state
  return calculated || formula !== null ? 'calculated' : 'source'
}

/** What a bead says in words, for those who do not see it. */
export const BEAD_WORDS: Readonly<Record<BeadKind, string>> = {
  source: 'source column',
  calculated: 'calculated column',
  stale: 'calculated column, stale',
  paused: 'paused column',
  stamp: 'stamp',
  draft: 'draft',
}

/** A bead as a drawing inside an svg. */
export function Bead({ kind, x, y, r = 8 }: { kind: BeadKind; x: number; y: number; r?: number }) {
  if (kind === 'stamp')
    return <path className="bead stamp" d={`M${x} ${y - r - 1}L${x + r + 1} ${y}L${x} ${y + r + 1}L${x - r - 1} ${y}Z`} />
  return (
    <g className={`bead ${kind}`}>
      <circle cx={x} cy={y} r={kind === 'calculated' ? r + 1 : r} />
      {kind === 'calculated' && <circle className="shine" cx={x - r * 0.3} cy={y - r * 0.38} r={r * 0.27} />}
      {kind === 'stale' && <path className="half" d={`M${x} ${y - r}A${r} ${r} 0 0 0 ${x} ${y + r}Z`} />}
    </g>
  )
}

/** A bead by itself, in a line of text. */
export function BeadMark({ kind }: { kind: BeadKind }) {
  return (
    <svg className="bead-mark" width={14} height={14} aria-hidden="true">
      <Bead kind={kind} x={7} y={7} r={5} />
    </svg>
  )
}
