import { type FaultFacts, SessionFault } from '@mellow-abacus/session'
import { Refusal } from 'mellow-abacus'

/** What sessions are told of something that was thrown. */
export function faultOf(error: unknown): SessionFault {
  if (error instanceof SessionFault) return error
  if (error instanceof Refusal) {
    const { code, message, findings, operation } = error
    return new SessionFault({ code, message, findings, operation }, { cause: error })
  }
  // What went wrong inside is for the one who runs the host, who finds it as the cause.
  const { code } = error as { readonly code?: unknown }
  const facts: FaultFacts =
    code === 'unwritable'
      ? { code: 'lost', message: 'The workbook cannot be written at the moment. Nothing was changed.' }
      : { code: 'internal', message: 'Something went wrong inside. Nothing was changed.' }
  return new SessionFault(facts, { cause: error })
}
