import type { Finding, Fix } from 'mellow-abacus'
import { countedOf } from '../look/cell-text'

const SIGNS = { error: '✕', warning: '▲', hint: '·' } as const
const WORDS = { error: 'stands in the way', warning: 'look at this', hint: 'to know' } as const

/** A finding with a button for each way on. */
export function FindingCard({
  finding,
  onFix,
  children,
}: {
  finding: Finding
  /** Null where its fixes cannot be made from here. */
  onFix: ((fix: Fix) => void) | null
  children?: React.ReactNode
}) {
  const { severity, message, rows, fixes } = finding
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
      </div>
    </div>
  )
}
