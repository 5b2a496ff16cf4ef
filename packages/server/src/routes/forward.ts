import replyFrom from '@fastify/reply-from'
import type { FastifyRequest } from 'fastify'
import { roleAt } from '../access/index.js'
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
  app.addHook('onRequest', async (request, reply) => {
    const { book } = (request.params ?? {}) as { readonly book?: string }
    const { caller } = request
    // Who may not come in is told so here.
    if (book === undefined || caller === null || roleAt(caller, book) === undefined) return undefined
    if (!(await books.store.has(book))) return undefined
    const isHandedOn = request.headers[FORWARDED] !== undefined
    // Who handed it on has looked: what was known before is not any more.
    if (isHandedOn) books.forgetElsewhere(book)
    const address = await books.elsewhere(book)
    if (address === null) return undefined
    if (isHandedOn) throw new HttpProblem(MOVED)
    request.isForwarded = true
    // The body goes on as it comes.
    if (hasBody(request)) request.body = request.raw
    reply.from(`${address}${request.url}`, {
      rewriteRequestHeaders: ({ ip }, headers) => ({
        ...headers,
        [FORWARDED]: 'yes',
        'x-forwarded-for': [headers['x-forwarded-for'], ip].flat().filter(Boolean).join(', '),
      }),
      // Asking again is up to who asked.
      retryDelay: () => null,
      onResponse: (_, reply, response) => {
        const isMoved = reply.statusCode === MOVED.status
        if (isMoved) books.forgetElsewhere(book)
        if (isMoved) response.stream.resume()
        reply.send(isMoved ? new HttpProblem(BUSY) : response.stream)
      },
      onError: (reply, { error }) => {
        books.forgetElsewhere(book)
        reply.send(new HttpProblem(isRefused(error) || request.method === 'GET' ? BUSY : UNANSWERED, { cause: error }))
      },
    })
    return reply
  })
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
