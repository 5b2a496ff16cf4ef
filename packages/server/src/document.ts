import swagger from '@fastify/swagger'
import swaggerUi from '@fastify/swagger-ui'
import { FEED_EVENTS, PROBLEM, ROUTES, type Route } from '@mellow-abacus/session/wire'
import type { GenericSchema } from 'valibot'
import { jsonSchemaOf, PROBLEM_TYPE } from './http/index.js'
import type { Metrics } from './records/index.js'
import { type App, callerOfService, type ServerContext } from './routes/index.js'

/** The document of the interface with a page to read it, and what those ask who look after the server. */
export async function documentRoutes(app: App, { metrics, books }: ServerContext & { readonly metrics: Metrics }): Promise<void> {
  await app.register(swagger, {
    openapi: {
      openapi: '3.1.0',
      info: {
        title: 'Mellow Abacus',
        version: '0.1.0',
        description: 'Shared workbooks: rows in, calculated values out, live.',
        license: { name: 'MIT', identifier: 'MIT' },
      },
      components: {
        securitySchemes: { token: { type: 'http', scheme: 'bearer' } },
        schemas: { Problem: jsonSchemaOf(PROBLEM), ...eventSchemas() },
      },
      security: [{ token: [] }],
    },
    transform: ({ schema, url }) => ({ schema: documented(schema as DocumentedSchema), url }),
  })
  // The page draws with styles of its own in elements; its scripts are files.
  await app.register(swaggerUi, {
    routePrefix: '/docs',
    staticCSP: true,
    // The page only tells what there is: it asks nothing itself.
    uiConfig: { layout: 'BaseLayout', tryItOutEnabled: false, supportedSubmitMethods: [] },
    transformStaticCSP: (header) => header.replace("style-src 'self' https:", "style-src 'self' 'unsafe-inline'"),
    theme: { title: 'Mellow Abacus: the HTTP interface' },
  })
  app.get('/openapi.json', { schema: { hide: true } as never }, async () => app.swagger())
  app.get('/health/live', { schema: { hide: true } as never }, async () => ({ status: 'live' }))
  app.get('/health/ready', { schema: { hide: true } as never }, async (_, reply) => {
    await books.store.ready()
    return reply.send({ status: 'ready' })
  })
  app.post('/drain', { schema: { hide: true } as never }, async (request) => {
    callerOfService(request)
    await books.drain()
    return { status: 'drained' }
  })
  app.get('/metrics', { schema: { hide: true } as never }, async (request, reply) => {
    callerOfService(request)
    return reply.type(metrics.contentType).send(await metrics.text())
  })
}

/** The data of the events of the live feed, by what they are called. */
function eventSchemas(): Record<string, Record<string, unknown>> {
  const named = Object.entries(FEED_EVENTS).map(([event, schema]) => [`Event_${event}`, jsonSchemaOf(schema)])
  return Object.fromEntries(named)
}

interface DocumentedSchema {
  readonly hide?: boolean
  readonly operationId?: keyof typeof ROUTES
  readonly summary?: string
}

/** What an address is about: what stands behind the workbook in it. */
function topicOf(path: string): string {
  const [, , , topic, , part] = path.split('/')
  return part === 'rows' ? part : (topic ?? 'books')
}

/** The schemas of an address as JSON Schema, with all media types that it takes and gives. */
function documented(schema: DocumentedSchema | undefined): never {
  if (schema?.hide === true || schema?.operationId === undefined) return { ...schema, hide: true } as never
  const { operationId, summary } = schema
  const { path, params, query, body, takes = [], gives = [], answers }: Route = ROUTES[operationId]
  const bytes = { type: 'string', format: 'binary' }
  const also = (types: readonly string[]): object => Object.fromEntries(types.map((type) => [type, { schema: bytes }]))
  const problem = { description: 'What did not go well.', content: { [PROBLEM_TYPE]: { schema: jsonSchemaOf(PROBLEM) } } }
  const statuses = Object.keys(answers).length === 0 ? { 200: undefined } : answers
  const response = Object.fromEntries(
    Object.entries(statuses).map(([status, answer]) => [
      status,
      answer === null
        ? { description: 'Done, or as it was.', type: 'null' }
        : {
            description: summary,
            content: {
              ...(answer !== undefined && { 'application/json': { schema: jsonSchemaOf(answer as GenericSchema) } }),
              ...(status === '200' && also(gives)),
            },
          },
    ]),
  )
  return {
    operationId,
    summary,
    tags: [topicOf(path)],
    ...(params !== undefined && { params: jsonSchemaOf(params) }),
    ...(query !== undefined && { querystring: jsonSchemaOf(query) }),
    ...(body !== undefined && {
      body: { content: { 'application/json': { schema: jsonSchemaOf(body) }, ...also(takes) } },
    }),
    response: { ...response, '4XX': problem, '5XX': problem },
  } as never
}
