import { randomUUID } from 'node:crypto'
import { statSync } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join, resolve } from 'node:path'
import cors from '@fastify/cors'
import rateLimit from '@fastify/rate-limit'
import fastify, { type FastifyReply, type FastifyRequest, LogController } from 'fastify'
import { type DestinationStream, pino } from 'pino'
import { Door } from './access/index.js'
import { OpenBooks } from './books/index.js'
import { documentRoutes } from './document.js'
import { factsOfFault, KeyedRequests, PROBLEM_TYPE, problemOf, securityHeaders, validatorCompiler } from './http/index.js'
import { type GivenServerOptions, readServerOptions, type ServerOptions, ServerOptionsFault } from './options.js'
import { Audit, Metrics } from './records/index.js'
import {
  type App,
  bookRoutes,
  editRoutes,
  Feeds,
  liveRoutes,
  questionRoutes,
  rowRoutes,
  type ServerContext,
  tableRoutes,
} from './routes/index.js'

/** The file of the audit, unless another one is named. */
const AUDIT_FILE = 'audit.ndjson'

/** Bodies of rows in an open format, taken as bytes. */
const ROW_TYPES = ['text/csv', 'application/x-ndjson', 'application/vnd.apache.arrow.stream']
/** Bodies that are workbook files, taken as they come. */
const FILE_TYPES = ['application/octet-stream', 'application/vnd.sqlite3']

/** Seconds for the headers of a request, and bytes of them. */
const HEADERS_MS = 10_000
const HEADER_BYTES = 16_384
/** Milliseconds between two looks for requests that take too long to come. */
const LOOK_MS = 1_000

/** A server that runs. */
export interface RunningServer {
  /** Where it can be asked. */
  readonly url: string
  /** True where everyone on this machine may do everything. */
  readonly isOpen: boolean
  /** Ends it: what is acknowledged is kept, those who follow are told to come again, all workbooks are closed. */
  close(): Promise<void>
}

/**
 * Starts a server for the workbooks of a folder.
 *
 * @param log - where the log goes; standard error when left out
 * @throws ServerOptionsFault for options of which none can be made, and where the port is taken
 */
export async function startServer(given: GivenServerOptions, log?: DestinationStream): Promise<RunningServer> {
  const options = withFolder(readServerOptions(given))
  const door = new Door(options)
  const books = new OpenBooks(options.folder, options)
  const feeds = new Feeds(door)
  const audit = new Audit(options.audit ?? join(options.folder, AUDIT_FILE), options.auditBytes, options.auditFiles)
  const metrics = new Metrics({ openBooks: () => books.size, feeds: () => feeds.size })
  const app = await makeApp({ options, door, books, keyed: new KeyedRequests() }, { feeds, audit, metrics }, log)
  const end = async (): Promise<void> => {
    feeds.end()
    await app.close()
    await books.end()
    await audit.close()
  }
  try {
    await app.listen({ host: options.host, port: options.port })
  } catch (error) {
    await end()
    if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE')
      throw new ServerOptionsFault(`port ${options.port} of ${options.host} is taken.`)
    throw error
  }
  const { address, port, family } = app.server.address() as AddressInfo
  return { url: `http://${family === 'IPv6' ? `[${address}]` : address}:${port}`, isOpen: door.isOpen, close: end }
}

function withFolder(options: ServerOptions): ServerOptions {
  const folder = resolve(options.folder)
  if (statSync(folder, { throwIfNoEntry: false })?.isDirectory() !== true)
    throw new ServerOptionsFault(`there is no folder ${options.folder}.`)
  return { ...options, folder }
}

interface Records {
  readonly feeds: Feeds
  readonly audit: Audit
  readonly metrics: Metrics
}

async function makeApp(context: ServerContext, records: Records, log: DestinationStream | undefined): Promise<App> {
  const { options } = context
  // Neither addresses nor bodies are logged: both hold values.
  const logger = pino({ level: options.log, base: null, redact: ['req.headers', 'headers'] }, log ?? pino.destination(2))
  const app = fastify({
    loggerInstance: logger,
    logController: new LogController({ disableRequestLogging: true }),
    bodyLimit: options.bodyBytes,
    requestTimeout: options.requestMs,
    trustProxy: options.proxied,
    genReqId: () => randomUUID(),
    forceCloseConnections: true,
    routerOptions: { maxParamLength: 500 },
    http: {
      maxHeaderSize: HEADER_BYTES,
      headersTimeout: Math.min(HEADERS_MS, options.requestMs),
      connectionsCheckingInterval: LOOK_MS,
    },
    clientErrorHandler: refuseConnection,
    return503OnClosing: true,
  }) as unknown as App
  context.books.onTrouble = (trouble) => logger.error({ trouble }, 'something went wrong in a workbook')
  app.setValidatorCompiler(validatorCompiler as never)
  app.setSerializerCompiler(() => (data) => JSON.stringify(data))
  app.decorateRequest('caller', null)
  app.decorateRequest('isChange', false)
  app.decorateRequest('revision', null)
  takeBodies(app, options)
  await protect(app, context)
  noteRequests(app, records)
  app.setErrorHandler((error, request, reply) => sendProblem(error, request, reply))
  app.setNotFoundHandler((request, reply) => sendProblem({ statusCode: 404 }, request, reply))
  await documentRoutes(app, { ...context, metrics: records.metrics })
  bookRoutes(app, context)
  tableRoutes(app, context)
  rowRoutes(app, context)
  editRoutes(app, context)
  questionRoutes(app, context)
  liveRoutes(app, context, records.feeds)
  return app
}

/** Bodies besides JSON: rows as bytes, files as they come. */
function takeBodies(app: App, { uploadBytes }: ServerOptions): void {
  app.removeContentTypeParser('text/plain')
  app.addContentTypeParser(ROW_TYPES, { parseAs: 'buffer', bodyLimit: uploadBytes }, (_, bytes, done) => done(null, bytes))
  app.addContentTypeParser(FILE_TYPES, (_, payload, done) => done(null, payload))
}

/** Who asks, how often, and from which page. */
async function protect(app: App, { options, door }: ServerContext): Promise<void> {
  if (options.origins.length > 0)
    await app.register(cors, {
      origin: options.origins,
      methods: ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'],
      exposedHeaders: ['etag', 'location', 'retry-after', 'preference-applied', 'x-request-id'],
    })
  const headers = { ...securityHeaders(), 'cache-control': 'private, no-cache' }
  app.addHook('onRequest', async (request, reply) => {
    reply.headers(headers).header('x-request-id', request.id)
    request.caller = (await door.callerOf(request.headers.authorization, request.hostname.replace(/:\d+$/, ''))) ?? null
  })
  if (options.rate > 0)
    await app.register(rateLimit, {
      max: options.rate,
      timeWindow: 1_000,
      hook: 'preParsing',
      keyGenerator: ({ caller, ip }) => caller?.id ?? `from ${ip}`,
      allowList: ({ url }) => url.startsWith('/health/'),
    })
}

/** Counts and writes down what was asked, without values. */
function noteRequests(app: App, { audit, metrics }: Records): void {
  app.addHook('onResponse', async (request, reply) => {
    const route = request.routeOptions.url ?? 'none'
    const { method, caller, revision } = request
    const status = reply.statusCode
    metrics.note(method, route, status, reply.elapsedTime / 1_000)
    const trace = traceOf(request)
    request.log.info(
      { method, route, status, ms: Math.round(reply.elapsedTime), ...(trace !== undefined && { trace }) },
      'answered',
    )
    if (status < 400 && !request.isChange) return
    const { book } = (request.params ?? {}) as { readonly book?: string }
    audit.write({
      at: new Date().toISOString(),
      request: request.id,
      who: caller?.author ?? null,
      token: caller?.id ?? null,
      from: request.ip,
      what: `${method} ${route}`,
      book: book ?? null,
      status,
      code: typeof reply.getHeader('x-problem') === 'string' ? String(reply.getHeader('x-problem')) : null,
      revision,
    })
  })
}

/** The trace that a request belongs to (W3C Trace Context). */
function traceOf({ headers }: FastifyRequest): string | undefined {
  return /^[0-9a-f]{2}-([0-9a-f]{32})-[0-9a-f]{16}-[0-9a-f]{2}$/.exec(String(headers.traceparent ?? ''))?.[1]
}

function sendProblem(error: unknown, request: FastifyRequest, reply: FastifyReply): FastifyReply {
  const facts = factsOfFault(error)
  // Who is busy, or about to end, has said so; it is nothing to look into.
  if (facts.code === 'busy') request.log.warn('could not be answered in time')
  else if (facts.status >= 500) request.log.error({ err: error }, 'could not be answered')
  if (facts.status === 401) reply.header('www-authenticate', 'Bearer')
  return reply
    .code(facts.status)
    .headers({ ...facts.headers, 'x-problem': facts.code })
    .type(PROBLEM_TYPE)
    .send(JSON.stringify(problemOf(facts, request.id)))
}

/** What is not HTTP, or too large or slow to be taken as a request. */
function refuseConnection(error: NodeJS.ErrnoException, socket: IncomingMessage['socket']): void {
  if (error.code === 'ECONNRESET' || socket.destroyed) return
  const statusCode = error.code === 'HPE_HEADER_OVERFLOW' ? 431 : error.code === 'ERR_HTTP_REQUEST_TIMEOUT' ? 408 : 400
  const facts = factsOfFault({ statusCode })
  const body = JSON.stringify(problemOf(facts, randomUUID()))
  const head = `HTTP/1.1 ${statusCode} Refused\r\nContent-Type: ${PROBLEM_TYPE}\r\nContent-Length: ${Buffer.byteLength(body)}\r\n`
  if (socket.writable) socket.end(`${head}Connection: close\r\n\r\n${body}`)
}
