import type { WindowRequest } from '@mellow-abacus/session'
import { WATCHED_WINDOWS, type WireAnswer } from '@mellow-abacus/session/wire'
import type { FastifyRequest } from 'fastify'
import { splitNames } from 'mellow-abacus'
import * as v from 'valibot'
import { readerOf } from '../access/index.js'
import { EventStream, type Wanted } from '../feed/index.js'
import { HttpProblem } from '../http/index.js'
import { type App, type AtBook, answer, atBook, callerOf, type ServerContext } from './context.js'
import type { Feeds } from './feeds.js'

const MOST_WINDOWS = 50

/** Addresses of what goes on: the live feed, and who is there. */
export function liveRoutes(app: App, context: ServerContext, feeds: Feeds): void {
  const { options } = context

  answer(app, 'changes', (asked) =>
    atBook(context, asked, async ({ book, caller, role }) => {
      const { request, reply, query } = asked
      const last = lastRevision(request)
      const wanted: Wanted = {
        tables: query.tables === undefined ? null : splitNames(query.tables),
        windows: windowsOf(query.watch),
      }
      if (feeds.size >= options.feeds)
        throw new HttpProblem({
          status: 503,
          code: 'too-many-feeds',
          detail: 'As many live feeds are followed as this server takes.',
          headers: { 'retry-after': '10' },
        })
      const feed = await book.feedOf(readerOf(caller, role))
      const early: Uint8Array[] = []
      let send = (bytes: Uint8Array): void => void early.push(bytes)
      let ended: () => void = () => undefined
      // Windows are opened before anything is answered, so that one that cannot be is a problem like any other.
      const leave = await feed.add({ send: (bytes) => send(bytes), end: () => ended() }, wanted, last)
      reply.hijack()
      // Who has gone meanwhile is not heard of again.
      if (reply.raw.destroyed) {
        leave()
        return reply
      }
      // Ended by closing, it needs no frames: what is put together once is written to everyone as it is.
      reply.raw.useChunkedEncodingByDefault = false
      reply.raw.writeHead(200, {
        ...(reply.getHeaders() as Record<string, string>),
        'content-type': 'text/event-stream; charset=utf-8',
        'cache-control': 'no-store',
        'x-accel-buffering': 'no',
      })
      const stream = new EventStream(reply.raw, options.feedBytes, () => {
        leave()
        feeds.forget(stream)
      })
      send = (bytes) => stream.send(bytes)
      ended = () => stream.end()
      for (const bytes of early) stream.send(bytes)
      feeds.note(stream, request.headers.authorization, caller)
      return reply
    }),
  )

  const present = async ({ book, caller, role }: AtBook): Promise<WireAnswer<'presence'>> => {
    const feed = await book.feedOf(readerOf(caller, role))
    return { present: feed.seen(book.presence.list()) as WireAnswer<'presence'>['present'] }
  }

  answer(app, 'presence', (asked) => atBook(context, asked, present))

  answer(app, 'setPresence', (asked) =>
    atBook(context, asked, async (at) => {
      const { place = null, draft = null, session, leaves } = asked.body
      const { id, author } = callerOf(asked.request)
      const where = place === null ? null : { table: place.table, ...rest(place) }
      const visitor = session === undefined ? id : `${id}:${session}`
      if (leaves === true) at.book.presence.forget(visitor)
      else at.book.presence.note({ id: visitor, author, role: at.role, place: where, draft })
      at.book.tellPresence()
      return present(at)
    }),
  )
}

function rest({ row, column }: { readonly row?: number | undefined; readonly column?: string | undefined }): {
  row?: number
  column?: string
} {
  return { ...(row !== undefined && { row }), ...(column !== undefined && { column }) }
}

/** The revision that one who comes again heard of last. */
function lastRevision(request: FastifyRequest): number | null {
  const given = request.headers['last-event-id']
  if (given === undefined || given === '') return null
  if (typeof given === 'string' && /^\d{1,15}$/.test(given)) return Number(given)
  throw new HttpProblem({ status: 400, code: 'bad-request', detail: 'Last-Event-ID takes the number of a revision.' })
}

function windowsOf(watch: string | undefined): Readonly<Record<string, WindowRequest>> {
  if (watch === undefined) return {}
  let json: unknown
  try {
    json = JSON.parse(watch)
  } catch {
    throw new HttpProblem({ status: 400, code: 'bad-request', detail: 'the query of the address, watch: it is no JSON' })
  }
  const read = v.safeParse(WATCHED_WINDOWS, json)
  if (!read.success || Object.keys(read.output).length > MOST_WINDOWS)
    throw new HttpProblem({
      status: 400,
      code: 'bad-request',
      detail: `the query of the address, watch: expected at most ${MOST_WINDOWS} windows by name`,
    })
  return read.output as Readonly<Record<string, WindowRequest>>
}
