import type { Finding } from './finding.js'
import { Refusal } from './refusal.js'

/**
 * Refuses what there are errors about, or other findings that are not to be.
 *
 * @throws Refusal with all of them
 */
export function refuseErrors(findings: readonly Finding[], severity: Finding['severity'] = 'error'): void {
  const [first, ...others] = findings.filter((one) => one.severity === severity)
  if (first !== undefined) throw new Refusal([first, ...others])
}
