import { type LaidOut, NUMBER_WIDTH } from './layout'
import type { Thread } from './threads'

/** Pixels at the sides within which a bead counts as out of sight. */
const MARGIN = 14

/** Where threads end whose other bead is out of sight: how many there are to each side, and a way there. */
export function Pegs({
  threads,
  picked,
  columns,
  pinned,
  starts,
  scroll,
  width,
  onTravel,
}: {
  threads: readonly Thread[]
  picked: string | null
  columns: readonly LaidOut[]
  pinned: number
  starts: readonly number[]
  scroll: number
  width: number
  onTravel: (name: string) => void
}) {
  const edge = starts[pinned] as number
  const sideOf = (name: string): 'left' | 'right' | null => {
    const place = columns.findIndex(({ column }) => column.name === name)
    if (place < pinned) return null
    const middle = (starts[place] as number) + (columns[place] as LaidOut).width / 2 - scroll
    return middle < edge + MARGIN ? 'left' : middle > width - MARGIN ? 'right' : null
  }
  const ends = [...new Set(threads.flatMap(({ from, to }) => (from === picked ? [to] : to === picked ? [from] : [from, to])))]
  return (['left', 'right'] as const).map((side) => {
    const names = ends.filter((name) => sideOf(name) === side)
    const [first] = names
    if (first === undefined) return null
    return (
      <button
        key={side}
        type="button"
        className={`peg ${side}`}
        {...(side === 'left' && { style: { left: NUMBER_WIDTH + edge + 4 } })}
        title={names.join(', ')}
        onClick={() => onTravel(first)}
      >
        {side === 'left' && '‹ '}
        {names.length} more
        {side === 'right' && ' ›'}
      </button>
    )
  })
}
