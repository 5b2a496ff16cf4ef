/** How much a finding matters: `error` blocks, `warning` blocks under strictness, `hint` never more than advises. */
export type Severity = 'error' | 'warning' | 'hint'

/**
 * What is known about a code; messages name parameters in braces. Why it is said and what to do is the comment of the code, which
 * the reference is made from, with a formula that raises it as `@example` (over the columns of tests/findings.test.ts) where a
 * formula alone can.
 */
export interface CodeRecord {
  readonly severity: Severity
  readonly message: string
}

const ofSeverity =
  (severity: Severity) =>
  (message: string): CodeRecord => ({ severity, message })

/** A code that blocks. */
export const error: ReturnType<typeof ofSeverity> = ofSeverity('error')
/** A code that blocks under strictness. */
export const warning: ReturnType<typeof ofSeverity> = ofSeverity('warning')
/** A code that advises. */
export const hint: ReturnType<typeof ofSeverity> = ofSeverity('hint')
