/** How much a finding matters: `error` blocks, `warning` blocks under strictness, `hint` never more than advises. */
export type Severity = 'error' | 'warning' | 'hint'

/** What is known about a code; messages name parameters in braces. */
export interface CodeRecord {
  readonly severity: Severity
  readonly message: string
  /** Why it is said and what to do, for the reference. */
  readonly explanation: string
  /** A formula that raises it, over the columns of findings.test.ts; none for refusals and what needs more than a formula. */
  readonly example?: string
}

const ofSeverity =
  (severity: Severity) =>
  (message: string, explanation: string, example?: string): CodeRecord => ({
    severity,
    message,
    explanation,
    ...(example !== undefined && { example }),
  })

/** A code that blocks. */
export const error: ReturnType<typeof ofSeverity> = ofSeverity('error')
/** A code that blocks under strictness. */
export const warning: ReturnType<typeof ofSeverity> = ofSeverity('warning')
/** A code that advises. */
export const hint: ReturnType<typeof ofSeverity> = ofSeverity('hint')
