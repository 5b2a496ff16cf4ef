import type { Finding, Fix } from 'mellow-abacus'
import { useState } from 'react'
import { countedOf } from '../look/cell-text'

const SIGNS = { error: '✕', warning: '▲', hint: '·' } as const
const WORDS = { error: 'stands in the way', warning: 'look at this', hint: 'to know' } as const

/** A finding with a button for each way on. */
export function FindingCard({
  finding,
  onFix,
  onAccept,
  children,
}: {
  finding: Finding
  /** Null where its fixes cannot be made from here. */
  onFix: ((fix: Fix) => void) | null
  /** Accepts it for a reason; left out where it cannot be. */
  onAccept?: (because: string) => void
  children?: React.ReactNode
}) {
  const { severity, message, rows, fixes } = finding
  const [isAccepting, setAccepting] = useState(false)
  return (
    <div className={`card ${severity}`}>
      <p>
        <strong>
          <span aria-hidden="true">{SIGNS[severity]}</span> <span className="sr-only">{WORDS[severity]}: </span>
        </strong>
        {message}
      </p>
      {rows !== undefined && <small>{countedOf(rows, 'row')}</small>}
      <div className="row">
        {onFix !== null &&
          fixes.map((fix) => (
            <button type="button" key={fix.title} onClick={() => onFix(fix)}>
              {fix.title}
            </button>
          ))}
        {children}
        {onAccept !== undefined && !isAccepting && (
          <button type="button" onClick={() => setAccepting(true)}>
            Accept…
          </button>
        )}
      </div>
      {onAccept !== undefined && isAccepting && (
        <form
          className="row"
          onSubmit={(event) => {
            event.preventDefault()
            onAccept(String(new FormData(event.currentTarget).get('because')).trim())
          }}
        >
          <label>
            because {/* biome-ignore lint/a11y/noAutofocus: it was asked for with the button in its place. */}
            <input name="because" required pattern=".*\S.*" autoFocus placeholder="counted by hand" />
          </label>
          <button type="submit">Accept</button>
          <button type="button" className="un" onClick={() => setAccepting(false)}>
            Give up
          </button>
        </form>
      )}
    </div>
  )
}
