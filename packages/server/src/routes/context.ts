import type { BookSession } from '@mellow-abacus/session'
import type { Route, RouteName, WireAnswer } from '@mellow-abacus/session/wire'
import { ROUTES } from '@mellow-abacus/session/wire'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { hasRole, type Role } from 'mellow-abacus'
import type * as v from 'valibot'
import { type Caller, type Door, readerOf, roleAt } from '../access/index.js'
import type { OpenBooks, ServedBook } from '../books/index.js'
import { HttpProblem, type KeyedRequests, noBook, type SchemaTypes, typeOfBody } from '../http/index.js'
import type { ServerOptions } from '../options.js'

declare module 'fastify' {
  interface FastifyRequest {
    /** Who asks; null where nothing good was shown. */
    caller: Caller | null
    /** True for one that has changed something. */
    isChange: boolean
    /** What the workbook was at when the request was answered, for the audit. */
    revision: number | null
  }
}

/** What all addresses have at hand. */
export interface ServerContext {
  readonly options: ServerOptions
  readonly door: Door
  readonly books: OpenBooks
  readonly keyed: KeyedRequests
}

/** The server that addresses are put into. */
export type App = FastifyInstance

type Of<Name extends RouteName> = (typeof ROUTES)[Name]
type Part<Name extends RouteName, Key extends 'params' | 'query' | 'body'> =
  Of<Name> extends {
    readonly [one in Key]: infer Schema extends v.GenericSchema
  }
    ? v.InferOutput<Schema>
    : undefined

/** A request at an address, as it was checked. */
export interface Asked<Name extends RouteName> {
  readonly params: Part<Name, 'params'>
  readonly query: Part<Name, 'query'>
  /** The body as the schema has it; bytes for another media type. */
  readonly body: Part<Name, 'body'>
  readonly request: FastifyRequest
  readonly reply: FastifyReply
}

/** Puts what answers an address in: an object that fits its schema, or whatever the reply was sent with. */
export function answer<Name extends RouteName>(
  app: App,
  name: Name,
  handle: (asked: Asked<Name>) => Promise<WireAnswer<Name> | FastifyReply>,
): void {
  const { method, path, summary, params, query, body, takes = [] }: Route = ROUTES[name]
  app.withTypeProvider<SchemaTypes>().route({
    method,
    url: path,
    schema: {
      ...{ summary, operationId: name },
      ...(params !== undefined && { params }),
      ...(query !== undefined && { querystring: query }),
      ...(body !== undefined && { body }),
    },
    preValidation: async (request) => {
      const type = typeOfBody(request.headers['content-type'])
      if (body === undefined || type === 'application/json' || takes.includes(type)) return
      throw Object.assign(new Error('media type'), { statusCode: 415 })
    },
    handler: async (request, reply) => {
      const asked = { params: request.params, query: request.query, body: request.body, request, reply }
      return handle(asked as unknown as Asked<Name>)
    },
  })
}

/** A caller at a workbook. */
export interface AtBook {
  readonly caller: Caller
  readonly role: Role
  readonly book: ServedBook
  readonly session: BookSession
}

/** Who asks. @throws HttpProblem 401 */
export function callerOf({ caller }: FastifyRequest): Caller {
  if (caller !== null) return caller
  throw Object.assign(new Error('no token'), { statusCode: 401 })
}

/** Who asks about the server itself. @throws HttpProblem 401, and 403 for one who does not look after it */
export function callerOfService(request: FastifyRequest): Caller {
  const caller = callerOf(request)
  if (caller.isOperator) return caller
  throw new HttpProblem({ status: 403, code: 'needs-operator', detail: 'This takes the token of an operator.' })
}

/**
 * Does something at the workbook that an address names, as the one who asks.
 *
 * @param least - the role that it takes
 * @throws HttpProblem 404 for a workbook that there is not, or where the caller may not come in; 403 for too low a role
 */
export async function atBook<Answer>(
  { books, options }: ServerContext,
  { request, params }: { readonly request: FastifyRequest; readonly params: { readonly book: string } },
  work: (at: AtBook) => Promise<Answer>,
  least: Role = 'read',
): Promise<Answer> {
  const caller = callerOf(request)
  const role = roleAt(caller, params.book)
  if (role === undefined || !(await books.store.has(params.book))) throw noBook()
  if (!hasRole(role, least))
    throw new HttpProblem({ status: 403, code: 'needs-role', detail: `This takes the role ${least}, and yours is ${role}.` })
  const book = await books.get(params.book)
  return within(
    options.requestMs,
    book.with(readerOf(caller, role), (session) => work({ caller, role, book, session })),
  )
}

/** What comes of a promise, unless it takes too long. */
async function within<Answer>(ms: number, promise: Promise<Answer>): Promise<Answer> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(Object.assign(new Error('too slow'), { statusCode: 503 })), ms)
  })
  try {
    return await Promise.race([promise, late])
  } finally {
    clearTimeout(timer)
  }
}

/** True where a write is to be answered without rows (RFC 7240). */
export function isMinimal(request: FastifyRequest, reply: FastifyReply): boolean {
  const wanted = /(?:^|[,;\s])return\s*=\s*"?minimal"?/i.test(String(request.headers.prefer ?? ''))
  if (wanted) reply.header('preference-applied', 'return=minimal')
  return wanted
}
