import type { Finding } from 'mellow-abacus'

/** Why a session could not do what it was asked for: a refusal of the workbook, or one of the way to it. */
export type SessionFaultCode =
  | Finding['code']
  | 'closed'
  | 'lost'
  | 'internal'
  | 'not-found'
  /** A row is another by now than the edit was for. */
  | 'row-changed'
  /** A key stands for something else that was asked for. */
  | 'key-reused'
  /** What the reader may see is something else than when it was done. */
  | 'view-changed'
  /** What is asked for would look at too many pairs of rows. */
  | 'too-costly'
  /** What was sent in an open format cannot be read. */
  | 'unreadable'

/** What a fault is made of, as it travels. */
export interface FaultFacts {
  readonly code: SessionFaultCode
  readonly message: string
  readonly findings?: readonly Finding[]
  readonly operation?: object | undefined
  /** Pairs of rows that would have to be looked at, where those are too many. */
  readonly cost?: number
}

/** Thrown when a session is refused what it asks for; nothing was changed. */
export class SessionFault extends Error {
  readonly code: SessionFaultCode
  /** Everything that stands against it, where the workbook refused. */
  readonly findings: readonly Finding[]
  /** The operation refused, where one of a list is to blame. */
  readonly operation: object | undefined
  /** Pairs of rows that would have to be looked at, where those are too many. */
  readonly cost: number | undefined

  constructor({ code, message, findings = [], operation, cost }: FaultFacts, options?: ErrorOptions) {
    super(message, options)
    this.name = 'SessionFault'
    this.code = code
    this.findings = findings
    this.operation = operation
    this.cost = cost
  }

  /** What of it travels. */
  get facts(): FaultFacts {
    const { code, message, findings, operation, cost } = this
    return { code, message, findings, ...(operation !== undefined && { operation }), ...(cost !== undefined && { cost }) }
  }
}
