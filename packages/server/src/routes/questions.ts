import type { BookSession, Exported, MovedRequest, RowsRequest, SeekRequest, SessionValue } from '@mellow-abacus/session'
import { MEDIA_TYPES, type WireAnswer, type WireBody } from '@mellow-abacus/session/wire'
import type { FastifyReply } from 'fastify'
import type { ChartDefinition, FitRequest, GroupedView, SuggestionRequest } from 'mellow-abacus'
import { printName } from 'mellow-abacus'
import { acceptedType, HttpProblem } from '../http/index.js'
import { type App, answer, atBook, type ServerContext } from './context.js'

const REPORT_TYPES = ['application/json', 'text/csv', 'text/html'] as const
const CHART_TYPES = ['application/json', 'image/svg+xml', 'image/png', 'application/vnd.vegalite.v6+json'] as const
const FORMAT_OF_TYPE = {
  'text/csv': 'csv',
  'text/html': 'html',
  'image/svg+xml': 'svg',
  'image/png': 'png',
  'application/vnd.vegalite.v6+json': 'json',
} as const

/** Addresses of what is asked about a workbook. */
export function questionRoutes(app: App, context: ServerContext): void {
  answer(app, 'findings', (asked) =>
    atBook(context, asked, async ({ session }) => {
      // Asked for first, so that what is found is as new as it says, or newer.
      const { revision } = await session.facts()
      const findings = await session.findings()
      return { revision, findings: findings.map((one) => ({ ...one })) }
    }),
  )

  answer(app, 'why', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { table, row, column } = asked.params
      if ((await session.row(table, row)) === null) throw noRow(row)
      return plain(await session.why(`${printName(table)}.${printName(column)}`, row))
    }),
  )

  answer(app, 'explanation', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { table, column } = asked.params
      return plain(await session.explain(table, printName(column)))
    }),
  )

  answer(app, 'trace', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { table, column } = asked.params
      return plain(await session.trace(`${printName(table)}.${printName(column)}`))
    }),
  )

  answer(app, 'report', (asked) =>
    atBook(context, asked, async ({ session }): Promise<WireAnswer<'report'> | FastifyReply> => {
      const { params, query, request, reply } = asked
      const type = acceptedType(request.headers.accept, REPORT_TYPES)
      const parameters = valuesOf(query)
      if (type !== 'application/json')
        return sendBytes(reply, type, await session.exported({ report: params.name, parameters }, FORMAT_OF_TYPE[type]))
      reply.header('vary', 'Accept')
      return (await session.report(params.name, parameters)) as unknown as WireAnswer<'report'>
    }),
  )

  answer(app, 'chart', (asked) =>
    atBook(context, asked, async ({ session }): Promise<WireAnswer<'chart'> | FastifyReply> => {
      const { params, query, request, reply } = asked
      const type = acceptedType(request.headers.accept, CHART_TYPES)
      const parameters = valuesOf(query)
      if (type !== 'application/json')
        return sendBytes(reply, type, await session.exported({ chart: params.name, parameters }, FORMAT_OF_TYPE[type]))
      reply.header('vary', 'Accept')
      return (await session.chart(params.name, parameters)) as unknown as WireAnswer<'chart'>
    }),
  )

  answer(app, 'query', (asked) =>
    atBook(context, asked, async ({ session }): Promise<WireAnswer<'query'> | FastifyReply> => {
      const { body, query, reply } = asked
      if (query.as === undefined) return plain(await answerTo(session, body))
      if (!('rows' in body || 'report' in body || 'chart' in body)) throw notInFormat()
      return sendBytes(reply, MEDIA_TYPES[query.as], await session.exported(body as unknown as Exported, query.as))
    }),
  )

  answer(app, 'language', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { table, formula, offset, to, name, ids } = asked.body
      const { language } = session
      const at = (): number => needed(offset, 'offset')
      const services = {
        findings: async () => ({ findings: await language.findings(table, formula) }),
        complete: async () => ({ completions: await language.complete(table, formula, at()) }),
        hover: async () => ({ hover: await language.hover(table, formula, at()) }),
        signature: async () => ({ signature: await language.signature(table, formula, at()) }),
        format: async () => ({ formula: await language.format(table, formula) }),
        rename: async () => ({ rename: await language.rename(table, formula, at(), needed(to, 'to')) }),
        tokens: async () => ({ tokens: await language.tokens(table, formula) }),
        preview: async () => ({
          preview: await language.preview(table, { name: needed(name, 'name'), formula, ...(ids !== undefined && { ids }) }),
        }),
      }
      return plain(await services[asked.params.service]())
    }),
  )

  answer(app, 'history', (asked) =>
    atBook(context, asked, async ({ session }) => {
      const { after, limit } = asked.query
      const told = await session.history({ ...(after !== undefined && { after }), ...(limit !== undefined && { limit }) })
      return told as unknown as WireAnswer<'history'>
    }),
  )
}

/** What is asked once, and not kept. */
async function answerTo(session: BookSession, body: WireBody<'query'>): Promise<unknown> {
  if ('rows' in body) {
    const rows = body.rows as unknown as RowsRequest
    const limit = Math.min(rows.limit ?? USUAL_ROWS, MOST_ROWS)
    return session.query({ ...rows, limit })
  }
  if ('report' in body) return session.report(body.report as string | GroupedView, body.parameters as GivenValues)
  if ('chart' in body) return session.chart(body.chart as string | ChartDefinition, body.parameters as GivenValues)
  if ('fit' in body) return session.fit(body.fit as unknown as FitRequest)
  if ('value' in body) return { value: await session.value(body.value) }
  if ('why' in body) return session.why(body.why.address, body.why.row)
  if ('trace' in body) return session.trace(body.trace)
  if ('profile' in body) return session.profile(body.profile)
  if ('moved' in body) return session.moved(body.moved as MovedRequest)
  if ('seek' in body) return session.seek(body.seek as SeekRequest)
  if ('suggest' in body) return { suggestions: await session.suggest(body.suggest as unknown as SuggestionRequest) }
  if ('formulasFor' in body) return { formulas: await session.formulasFor(body.formulasFor.table, body.formulasFor.words) }
  if ('functions' in body) return { functions: await session.functions(body.functions) }
  if ('accepting' in body)
    return session.accepting(body.accepting.finding as Parameters<BookSession['accepting']>[0], body.accepting.because)
  return session.explain(body.explain.table, body.explain.formula)
}

type GivenValues = Readonly<Record<string, SessionValue>>

const USUAL_ROWS = 1_000
const MOST_ROWS = 10_000

function notInFormat(): HttpProblem {
  return new HttpProblem({ status: 400, code: 'bad-request', detail: 'Rows, reports and charts can be had in other formats.' })
}

/** Values of parameters in an address: a number where the text is one, true and false, else the text. */
function valuesOf(query: Readonly<Record<string, string>>): Record<string, SessionValue> {
  const given = (text: string): SessionValue =>
    text === 'true' || text === 'false' ? text === 'true' : /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : text
  return Object.fromEntries(Object.entries(query).map(([name, text]) => [name, given(text)]))
}

function needed<Value>(value: Value | undefined, name: string): Value {
  if (value !== undefined) return value
  throw new HttpProblem({ status: 400, code: 'bad-request', detail: `the body, ${name}: this service needs it` })
}

function noRow(row: number): HttpProblem {
  return new HttpProblem({ status: 404, code: 'unknown-row', detail: `There is no row ${row} in this table.` })
}

function sendBytes(reply: FastifyReply, type: string, bytes: Uint8Array): FastifyReply {
  return reply.header('vary', 'Accept').type(type).send(Buffer.from(bytes))
}

/** What the library tells, as an object of the wire. */
const plain = (told: unknown): WireAnswer<'query'> => told as WireAnswer<'query'>
