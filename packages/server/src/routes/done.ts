import type { AppliedChange } from '@mellow-abacus/session'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import type { FastifyRequest } from 'fastify'

/** What a write has done, as it is answered; notes the revision for the audit. */
export function doneOf(change: AppliedChange, request: FastifyRequest): WireAnswer<'removeRow'> {
  request.isChange = true
  request.revision = change.revision
  return change as unknown as WireAnswer<'removeRow'>
}
