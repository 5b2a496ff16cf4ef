import type { FindingCode } from './codes.js'
import { type Finding, type FindingParameters, type FindingPlace, finding } from './finding.js'

/** Thrown when an operation is refused; the book is as it was before. */
export class Refusal extends Error {
  /** Code of the first finding. */
  readonly code: FindingCode
  /** Everything that stands against the operation, not only the first thing. */
  readonly findings: readonly Finding[]
  /** The operation refused, where one of a list is to blame. */
  readonly operation: object | undefined

  constructor(findings: readonly [Finding, ...Finding[]], operation?: object) {
    super(findings.map((one) => one.message).join('\n'))
    this.name = 'Refusal'
    this.code = findings[0].code
    this.findings = findings
    this.operation = operation
  }
}

/** A refusal of one finding. */
export function refusal(code: FindingCode, parameters: FindingParameters = {}, place: FindingPlace = {}): Refusal {
  return new Refusal([finding(code, parameters, place)])
}
