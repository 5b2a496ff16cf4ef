import { randomUUID } from 'node:crypto'
import { statSync } from 'node:fs'
import type { IncomingMessage } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join, resolve } from 'node:path'
import cors from '@fastify/cors'
import rateLimit from '@fastify/rate-limit'
import { userName } from '@mellow-abacus/files'
import type { HostAddress, HostQuestion } from '@mellow-abacus/host'
import fastify, { type FastifyReply, type FastifyRequest, LogController } from 'fastify'
import type { Role } from 'mellow-abacus'
import { type DestinationStream, pino } from 'pino'
import { type Caller, Door } from './access/index.js'
import { OpenBooks } from './books/index.js'
import { documentRoutes } from './document.js'
import { factsOfFault, KeyedRequests, PROBLEM_TYPE, problemOf, securityHeaders, validatorCompiler } from './http/index.js'
import { type GivenServerOptions, readServerOptions, type ServerOptions, ServerOptionsFault } from './options.js'
import { Audit, type AuditLines, Metrics } from './records/index.js'
import {
  type App,
  bookRoutes,
  editRoutes,
  enterRoutes,
  Feeds,
  forwardRequests,
  liveRoutes,
  type Page,
  pageRoutes,
  questionRoutes,
  rowRoutes,
  type ServerContext,
  tableRoutes,
} from './routes/index.js'
import { AuditTable, BookFolder, type BookStore, OneBook, PostgresqlStore, StoreFault } from './store/index.js'

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
  /** Where the other servers of the store ask this one; null where its workbooks are its own. */
  readonly sharedAt: string | null
  /** Ends it: what is acknowledged is kept, those who follow are told to come again, all workbooks are closed. */
  close(): Promise<void>
}

/** What a server has besides its options. */
export interface ServerParts {
  /** The page on which workbooks are shown; none when left out. */
  readonly page?: Page
  /** Where the log goes; standard error when left out. */
  readonly log?: DestinationStream
}

/**
 * Starts a server for the workbooks of a folder, or of a store that it shares with others.
 *
 * @throws ServerOptionsFault for options of which none can be made, and where the port is taken or the store cannot be used
 */
export async function startServer(given: GivenServerOptions, parts: ServerParts = {}): Promise<RunningServer> {
  const options = withFolder(readServerOptions(given))
  const door = Door.ofFolder(options)
  const kept = options.store === undefined ? inFolder(options) : await inStore(options.store, options)
  const { books: _, ...server } = await run(options, { ...parts, door, ...kept })
  return server
}

/** What stands for all addresses of a machine, and is none itself. */
const EVERY_ADDRESS: ReadonlySet<string> = new Set(['0.0.0.0', '::'])

/** What a server writes, and where. */
type Kept = Pick<RunParts, 'store' | 'audit'>

function inFolder({ folder, audit = join(folder, AUDIT_FILE), auditBytes, auditFiles }: ServerOptions): Kept {
  return { store: new BookFolder(folder), audit: new Audit(audit, auditBytes, auditFiles) }
}

async function inStore(address: string, { folder, host, reachedAt }: ServerOptions): Promise<Kept> {
  if (EVERY_ADDRESS.has(host) && reachedAt === undefined)
    throw new ServerOptionsFault(`on ${host} the other servers of the store cannot know where to ask this one: say --reached-at.`)
  try {
    const store = await PostgresqlStore.open({ store: address, folder })
    return { store, audit: new AuditTable(store.pool) }
  } catch (error) {
    if (error instanceof StoreFault) throw new ServerOptionsFault(error.message)
    throw error
  }
}

/** The desk: a server of one workbook, for who sits at this machine. */
export interface RunningDesk extends RunningServer {
  /** Opens the workbook. @throws BookFileFault as `BookFile.open` */
  ready(): Promise<void>
  /** Makes the address of the page for one who is to come in; it is good once. */
  invite(): string
}

/**
 * Starts a server of one workbook file for who sits at this machine, wherever the file is; or of the page alone.
 *
 * @throws ServerOptionsFault as `startServer`
 */
export async function startDesk(
  { file, port = 0 }: { readonly file: string | null; readonly port?: number },
  parts: ServerParts = {},
): Promise<RunningDesk> {
  const store = new OneBook(file === null ? null : resolve(file))
  const options = readServerOptions({ folder: store.folder, port, rate: 0, log: 'error' })
  const door = Door.forInvited()
  const { books, ...server } = await run(options, { ...parts, door, audit: null, store })
  const invite = (): string =>
    pageAddress(server.url, door.handed.invite(invited(userName(), store.name === null ? [] : [store.name])))
  const ready = async (): Promise<void> => {
    for (const name of await store.names()) await books.get(name)
  }
  return { ...server, ready, invite }
}

interface RunParts extends ServerParts {
  readonly door: Door
  readonly store: BookStore
  readonly audit: AuditLines | AuditTable | null
}

async function run(
  options: ServerOptions,
  { door, store, audit, page, log }: RunParts,
): Promise<RunningServer & { readonly books: OpenBooks }> {
  const books = new OpenBooks(store, options)
  const feeds = new Feeds(door)
  const metrics = new Metrics({ openBooks: () => books.size, feeds: () => feeds.size })
  const app = await makeApp({ options, door, books, keyed: new KeyedRequests() }, { feeds, audit, metrics, page }, log)
  const end = async (): Promise<void> => {
    feeds.end()
    await app.close()
    await books.end()
    await audit?.close()
    await store.close()
  }
  const reachedAt = (): string => options.reachedAt ?? nearUrl(app.server.address() as AddressInfo)
  if (audit instanceof AuditTable) audit.onTrouble = (trouble) => books.onTrouble(trouble)
  try {
    await app.listen({ host: options.host, port: options.port })
    await store.announce(reachedAt())
  } catch (error) {
    await end()
    if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE')
      throw new ServerOptionsFault(`port ${options.port} of ${options.host} is taken.`)
    throw error
  }
  const at = app.server.address() as AddressInfo
  books.onMeeting = (name, question) => metAt(nearUrl(at), { door, name, question, hasPage: page !== undefined })
  return { url: urlOf(at), isOpen: door.isOpen, sharedAt: store.isShared ? reachedAt() : null, close: end, books }
}

const urlOf = ({ address, port, family }: Pick<AddressInfo, 'address' | 'port' | 'family'>): string =>
  `http://${family === 'IPv6' ? `[${address}]` : address}:${port}`

/** The address by which this machine asks itself. */
function nearUrl({ address, ...at }: AddressInfo): string {
  const near: Readonly<Record<string, string>> = { '0.0.0.0': '127.0.0.1', '::': '::1' }
  return urlOf({ ...at, address: near[address] ?? address })
}

/** Milliseconds for which a token is good that another program of this machine was handed. */
const HANDED_MS = 86_400_000

interface Meeting {
  readonly door: Door
  readonly name: string
  readonly question: HostQuestion
  readonly hasPage: boolean
}

/** Tells a program of the same user, who might open the file as well, how a workbook is asked here. */
function metAt(url: string, { door: { handed }, name, question: { author, role, page }, hasPage }: Meeting): HostAddress | null {
  const caller = invited(author, [name], role)
  if (page === true) return hasPage ? { url: pageAddress(url, handed.invite(caller)) } : null
  return { url: `${url}/books/${name}`, token: handed.hand(caller, HANDED_MS) }
}

const pageAddress = (url: string, invitation: string): string => `${url}/#invitation=${invitation}`

/** Who sits at this machine, to whom the files belong; a program of theirs may be let in with less. */
function invited(author: string, books: readonly string[], role: Role = 'own'): Caller {
  const roles = new Map(books.map((name) => [name, role] as const))
  return { id: `here:${randomUUID()}`, author, roles, groups: [], isOperator: false, until: Number.POSITIVE_INFINITY }
}

function withFolder(options: ServerOptions): ServerOptions {
  const folder = resolve(options.folder)
  if (statSync(folder, { throwIfNoEntry: false })?.isDirectory() !== true)
    throw new ServerOptionsFault(`there is no folder ${options.folder}.`)
  return { ...options, folder }
}

interface Records {
  readonly feeds: Feeds
  /** None for a workbook on one's own machine, of which there is the history. */
  readonly audit: AuditLines | null
  readonly metrics: Metrics
  readonly page: Page | undefined
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
  await forwardRequests(app, context)
  app.setErrorHandler((error, request, reply) => sendProblem(error, request, reply))
  app.setNotFoundHandler((request, reply) => sendProblem({ statusCode: 404 }, request, reply))
  await documentRoutes(app, { ...context, metrics: records.metrics })
  enterRoutes(app, context)
  if (records.page !== undefined) await pageRoutes(app, records.page)
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
    // What another server answered, it writes down itself.
    if (request.isForwarded || (status < 400 && !request.isChange)) return
    const { book } = (request.params ?? {}) as { readonly book?: string }
    audit?.write({
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
  // Who is busy, about to end or gone is nothing to look into here.
  if (facts.code === 'busy' || facts.code === 'unanswered') request.log.warn('could not be answered in time')
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
