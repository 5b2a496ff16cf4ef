import { caretLines, type Finding, type Fix } from 'mellow-abacus'

/** Findings with the place in the formula, and a button for each fix. */
export function FindingList({
  findings,
  formula,
  onFix,
}: {
  findings: readonly Finding[]
  formula: string | undefined
  onFix: (fix: Fix) => void
}) {
  return (
    <ul className="findings">
      {findings.map((finding) => (
        <li key={`${finding.code} ${finding.from} ${finding.to}`} className={finding.severity}>
          <strong>
            {finding.severity === 'hint' ? '○' : '▲'} {finding.severity}
          </strong>{' '}
          {finding.message}
          {formula !== undefined && finding.from !== undefined && finding.to !== undefined && (
            <Carets text={formula} from={finding.from} to={finding.to} />
          )}
          {finding.fixes.map((fix) =>
            fix.edits !== undefined && formula === undefined ? null : (
              <button type="button" key={fix.title} onClick={() => onFix(fix)}>
                {fix.title}
              </button>
            ),
          )}
        </li>
      ))}
    </ul>
  )
}

function Carets({ text, from, to }: { text: string; from: number; to: number }) {
  const { line, carets } = caretLines(text, from, to, 70)
  return (
    <pre className="carets">
      {line}
      {'\n'}
      {carets}
    </pre>
  )
}
