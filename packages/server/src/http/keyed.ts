import { createHash } from 'node:crypto'
import type { EditKey } from '@mellow-abacus/session'
import type { FastifyRequest } from 'fastify'
import { HttpProblem } from './problems.js'

const MOST_LONG = 255

/** Requests with an idempotency key that are on their way: a second one of the same key does not wait for the first. */
export class KeyedRequests {
  readonly #running: Set<string> = new Set()

  /**
   * Does a write once for each key that its caller gives.
   *
   * @throws HttpProblem for a key that is none, and where one of the same key is on its way
   */
  async once<Answer>(
    request: FastifyRequest,
    { caller, bytes }: { readonly caller: string; readonly bytes?: Uint8Array },
    work: (key: EditKey | undefined) => Promise<Answer>,
  ): Promise<Answer> {
    const given = request.headers['idempotency-key']
    if (given === undefined) return work(undefined)
    if (typeof given !== 'string' || given === '' || given.length > MOST_LONG)
      throw new HttpProblem({ status: 400, code: 'bad-request', detail: `Idempotency-Key takes 1 to ${MOST_LONG} signs.` })
    const name = JSON.stringify([caller, request.method, request.routeOptions.url, given])
    if (this.#running.has(name))
      throw new HttpProblem({
        status: 409,
        code: 'still-running',
        detail: 'A request with this idempotency key is on its way.',
        headers: { 'retry-after': '1' },
      })
    this.#running.add(name)
    try {
      return await work({ name, fingerprint: fingerprintOf(request, bytes) })
    } finally {
      this.#running.delete(name)
    }
  }
}

/** What a request asks for, as a hash. */
function fingerprintOf(request: FastifyRequest, bytes: Uint8Array | undefined): string {
  const hash = createHash('sha256').update(`${request.method} ${request.url}\n`)
  return hash.update(bytes ?? JSON.stringify(request.body ?? null)).digest('base64url')
}
