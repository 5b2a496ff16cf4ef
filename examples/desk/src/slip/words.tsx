import type { Explanation } from 'mellow-abacus'

/** A formula in plain words: steps and branches line by line, what else is to be known folded below. */
export function Words({ explanation: { lines, notes } }: { explanation: Pick<Explanation, 'lines' | 'notes'> }) {
  return (
    <div className="words soft">
      <span className="sr-only">In words: </span>
      {lines.map(({ depth, text }) => (
        <div key={`${depth} ${text}`} className={`depth-${Math.min(depth, 4)}`}>
          {text}
        </div>
      ))}
      {notes.length > 0 && (
        <details>
          <summary>blanks and errors</summary>
          {notes.map((note) => (
            <p key={note}>{note}</p>
          ))}
        </details>
      )}
    </div>
  )
}
