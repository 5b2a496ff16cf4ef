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
  /** What was sent in an open format cannot be read. */
  | 'unreadable'

/** What a fault is made of, as it travels. */
export interface FaultFacts {
  readonly code: SessionFaultCode
  readonly message: string
  readonly findings?: readonly Finding[]
  readonly operation?: object | undefined
}

/** Thrown when a session is refused what it asks for; nothing was changed. */
export class SessionFault extends Error {
  readonly code: SessionFaultCode
  /** Everything that stands against it, where the workbook refused. */
  readonly findings: readonly Finding[]
  /** The operation refused, where one of a list is to blame. */
  readonly operation: object | undefined

  constructor({ code, message, findings = [], operation }: FaultFacts, options?: ErrorOptions) {
    super(message, options)
    this.name = 'SessionFault'
    this.code = code
    this.findings = findings
    this.operation = operation
  }

  /** What of it travels. */
  get facts(): FaultFacts {
    const { code, message, findings, operation } = this
    return { code, message, findings, ...(operation !== undefined && { operation }) }
  }
}
