import replyFrom from '@fastify/reply-from'
import type { FastifyReply, FastifyRequest } from 'fastify'
import { roleAt } from '../access/index.js'
import type { OpenBooks } from '../books/index.js'
import { BUSY, HttpProblem } from '../http/index.js'
import type { App, ServerContext } from './context.js'

/** Says that a request came through another server, so that none goes round. */
const FORWARDED = 'mellow-forwarded'
/** Connections to each of the other servers, besides those of feeds. */
const MOST_CONNECTIONS = 256
/** Milliseconds that another server may take longer than this one would. */
const LONGER_MS = 5_000

declare module 'fastify' {
  interface FastifyRequest {
    /** True where another server answers, which also writes down what was asked. */
    isForwarded: boolean
  }
}

/** Hands requests for workbooks that another server has on to it, as they came, and its answers back, feeds too. */
export async function forwardRequests(app: App, { books, options }: ServerContext): Promise<void> {
  app.decorateRequest('isForwarded', false)
  if (!books.store.isShared) return
  const { feeds, requestMs } = options
  await app.register(replyFrom, {
    disableRequestLogging: true,
    disableCache: true,
    undici: { connections: feeds + MOST_CONNECTIONS, pipelining: 1, headersTimeout: requestMs + LONGER_MS, bodyTimeout: 0 },
  })
  const silence = new Silence()
  books.store.onSilent = (address) => silence.of(address)
  app.addHook('onRequest', async (request, reply) => {
    const { book } = (request.params ?? {}) as { readonly book?: string }
    if (book === undefined) return undefined
    const address = await addressFor(request, book, books)
    if (address === null) return undefined
    request.isForwarded = true
    handOn(reply, { address, silence, missed: () => books.forgetElsewhere(book) })
    return reply
  })
}

/**
 * Where a request for a workbook is to be answered; null for here.
 *
 * @throws HttpProblem 421 for one that was handed on to here in vain
 */
async function addressFor({ headers, caller }: FastifyRequest, book: string, books: OpenBooks): Promise<string | null> {
  // Who may not come in is told so here.
  if (caller === null || roleAt(caller, book) === undefined || !(await books.store.has(book))) return null
  const isHandedOn = headers[FORWARDED] !== undefined
  // Who handed it on has looked: what was known before is not so any more.
  if (isHandedOn) books.forgetElsewhere(book)
  const address = await books.elsewhere(book)
  if (address !== null && isHandedOn) throw new HttpProblem(MOVED)
  return address
}

interface Destination {
  readonly address: string
  readonly silence: Silence
  /** Called where the workbook was not there, or nobody was. */
  readonly missed: () => void
}

function handOn(reply: FastifyReply, { address, silence, missed }: Destination): void {
  const { request } = reply
  // The body goes on as it comes.
  if (hasBody(request)) request.body = request.raw
  const fail = (isUndone: boolean, cause?: Error): void => {
    missed()
    reply.send(new HttpProblem(isUndone || request.method === 'GET' ? BUSY : UNANSWERED, { cause }))
  }
  const leave = silence.note(address, () => fail(false))
  reply.from(`${address}${request.url}`, {
    rewriteRequestHeaders: ({ ip }, headers) => ({
      ...headers,
      [FORWARDED]: 'yes',
      'x-forwarded-for': [headers['x-forwarded-for'], ip].flat().filter(Boolean).join(', '),
    }),
    // Asking again is up to who asked.
    retryDelay: () => null,
    onResponse: (_, __, { stream }) => {
      leave()
      if (reply.sent) return void stream.destroy()
      if (reply.statusCode === MOVED.status) {
        stream.resume()
        return fail(true)
      }
      stream.once(
        'close',
        silence.note(address, () => stream.destroy()),
      )
      reply.send(stream)
    },
    onError: (_, { error }) => {
      leave()
      if (!reply.sent) fail(isRefused(error), error)
    },
  })
}

/** What is to be done where a server of which something is awaited falls silent: stopped, it breaks no connection. */
class Silence {
  readonly #waiting: Map<string, Set<() => void>> = new Map()

  /** Has something done then; the function that is given back takes that back. */
  note(address: string, giveUp: () => void): () => void {
    const all = this.#waiting.get(address) ?? new Set()
    this.#waiting.set(address, all.add(giveUp))
    return () => void all.delete(giveUp)
  }

  /** A server is silent. */
  of(address: string): void {
    const all = this.#waiting.get(address)
    this.#waiting.delete(address)
    for (const giveUp of all ?? []) giveUp()
  }
}

function hasBody({ headers }: FastifyRequest): boolean {
  return Number(headers['content-length'] ?? 0) > 0 || headers['transfer-encoding'] !== undefined
}

/** True where nothing of the request has reached the other server. */
function isRefused(error: Error): boolean {
  const { code, cause } = error as { readonly code?: unknown; readonly cause?: unknown }
  if (code === 'ECONNREFUSED' || code === 'UND_ERR_CONNECT_TIMEOUT' || code === 'EHOSTUNREACH') return true
  return cause instanceof Error && isRefused(cause)
}

const MOVED = { status: 421, code: 'moved', detail: 'Another server has the workbook by now.' } as const
const UNANSWERED = {
  status: 502,
  code: 'unanswered',
  detail:
    'The server that had the workbook went away before it answered. Whether it was done can be seen in the history; asked again under the same Idempotency-Key, it is done once.',
} as const
