import { type Explanation as ExplanationData, explanationText } from 'mellow-abacus'

/** A formula in plain English, folded until it is asked for. */
export function Explanation({ explanation }: { explanation: ExplanationData }) {
  return (
    <details className="explanation">
      <summary>in plain English</summary>
      <pre>{explanationText(explanation)}</pre>
    </details>
  )
}
