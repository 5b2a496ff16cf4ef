import type {
  AppliedChange,
  BookSession,
  EditKey,
  EditOptions,
  RowAnswer,
  RowsRequest,
  SessionCells,
} from '@mellow-abacus/session'
import { SessionFault } from '@mellow-abacus/session'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import type { FastifyReply, FastifyRequest } from 'fastify'
import { type CellValue, type Operation, splitNames } from 'mellow-abacus'
import { acceptedType, HttpProblem, namesTag, namesTagWeakly, tagOf, typeOfBody } from '../http/index.js'
import { type App, type Asked, answer, atBook, isMinimal, type ServerContext } from './context.js'
import { doneOf } from './done.js'

const FORMATS = {
  'application/json': 'json',
  'application/x-ndjson': 'ndjson',
  'text/csv': 'csv',
  'application/vnd.apache.arrow.stream': 'arrow',
} as const
const TYPES = Object.keys(FORMATS) as (keyof typeof FORMATS)[]

const USUAL_ROWS = 1_000

/** Addresses of rows. */
export function rowRoutes(app: App, context: ServerContext): void {
  const { keyed } = context

  answer(app, 'rows', (asked) =>
    atBook(context, asked, async ({ session }): Promise<WireAnswer<'rows'> | FastifyReply> => {
      const { request, reply, params, query } = asked
      const type = acceptedType(request.headers.accept, TYPES)
      const { columns, limit = USUAL_ROWS, ...rest } = query
      const wanted = { table: params.table, limit, ...rest, ...(columns !== undefined && { columns: splitNames(columns) }) }
      const rows = wanted as RowsRequest
      reply.header('vary', 'Accept')
      if (type !== 'application/json') return reply.type(type).send(Buffer.from(await session.exported({ rows }, FORMATS[type])))
      const found = await session.query(rows)
      return { revision: found.revision, rows: [...found.rows], matched: found.matched, next: found.next }
    }),
  )

  answer(app, 'addRows', (asked) =>
    atBook(context, asked, ({ session, caller }) => {
      const { request } = asked
      const type = typeOfBody(request.headers['content-type'])
      if (type !== 'application/json') {
        const bytes = request.body as unknown as Uint8Array
        return keyed.once(request, { caller: caller.id, bytes }, (key) => importRows(session, asked, bytes, key))
      }
      return keyed.once(request, { caller: caller.id }, (key) => addRows(session, asked, key))
    }),
  )

  answer(app, 'row', (asked) =>
    atBook(context, asked, async ({ session }): Promise<WireAnswer<'row'> | FastifyReply> => {
      const { params, request, reply } = asked
      const row = await rowOf(session, params)
      const tag = tagOf(row.cells)
      reply.header('etag', tag)
      const known = request.headers['if-none-match']
      return known !== undefined && namesTagWeakly(known, tag) ? reply.code(304).send() : row
    }),
  )

  answer(app, 'setRow', (asked) =>
    atBook(context, asked, ({ session, caller }) => {
      const { params, query, body, request, reply } = asked
      const operation: Operation = {
        op: 'set-cells',
        table: params.table,
        cells: Object.entries(body).map(([column, value]) => ({ row: params.row, column, value: value as CellValue })),
      }
      return keyed.once(request, { caller: caller.id }, async (key) => {
        const change = await ifMatched(session, asked, { given: body as SessionCells, key }, (asSeen) =>
          session.apply(operation, {
            ...asSeen,
            ...(key !== undefined && { key }),
            ...(query.expects !== undefined && { seen: query.expects }),
          }),
        )
        return writtenRow(session, change, params, { request, reply })
      })
    }),
  )

  answer(app, 'removeRow', (asked) =>
    atBook(context, asked, ({ session, caller }) => {
      const { params, request } = asked
      const operation: Operation = { op: 'remove-rows', table: params.table, rows: [params.row] }
      return keyed.once(request, { caller: caller.id }, async (key) => {
        const change = await ifMatched(session, asked, { key }, (asSeen) =>
          session.apply(operation, { ...asSeen, ...(key !== undefined && { key }) }),
        )
        return doneOf(change, request)
      })
    }),
  )
}

type OneRow = Pick<Asked<'setRow'>['params'], 'table' | 'row'>
type Exchange = { readonly request: FastifyRequest; readonly reply: FastifyReply }

async function rowOf(session: BookSession, { table, row: id }: OneRow): Promise<RowAnswer> {
  const row = await session.row(table, id)
  if (row !== null) return row
  throw new HttpProblem({ status: 404, code: 'unknown-row', detail: `There is no row ${id} in this table.` })
}

/**
 * Does an edit of one row, where the row is as `If-Match` says.
 *
 * @throws HttpProblem 412 with what the row is now, and what was to be written
 */
async function ifMatched(
  session: BookSession,
  { params, request }: { readonly params: OneRow; readonly request: FastifyRequest },
  { given, key }: { readonly given?: SessionCells; readonly key: EditKey | undefined },
  edit: (asSeen: Pick<EditOptions, 'asSeen'>) => Promise<AppliedChange>,
): Promise<AppliedChange> {
  const condition = request.headers['if-match']
  if (condition === undefined) return edit({})
  for (;;) {
    const row = await session.row(params.table, params.row)
    const isAsSeen = row !== null && namesTag(condition, tagOf(row.cells))
    if (!isAsSeen && key === undefined) throw changedRow(row, given)
    try {
      // What was done under its key is answered as it was then, also where the row is another since.
      const cells = isAsSeen ? row.cells : OF_NO_ROW
      return await edit({ asSeen: [{ table: params.table, id: params.row, cells }] })
    } catch (error) {
      if (!(error instanceof SessionFault) || error.code !== 'row-changed') throw error
      // Changed between the two: looked at anew, which ends it unless it was changed back.
      if (!isAsSeen) throw changedRow(row, given)
    }
  }
}

/** Cells that no row has, since no column is called so. */
const OF_NO_ROW: SessionCells = { '': null }

function changedRow(row: RowAnswer | null, given: SessionCells | undefined): HttpProblem {
  return new HttpProblem({
    status: 412,
    code: 'row-changed',
    detail: row === null ? 'The row is gone.' : 'The row is another by now than the one that was seen.',
    row: { now: row === null ? null : { ...row.cells }, ...(given !== undefined && { given }) },
    ...(row !== null && { headers: { etag: tagOf(row.cells) } }),
  })
}

/** The answer to a write of one row. */
async function writtenRow(
  session: BookSession,
  change: AppliedChange,
  { table, row: id }: OneRow,
  { request, reply }: Exchange,
): Promise<WireAnswer<'setRow'>> {
  const { rows: _, ...done } = doneOf(change, request)
  const cells = change.rows.find((one) => one.table === table && one.id === id)?.cells ?? (await session.row(table, id))?.cells
  if (cells !== undefined) reply.header('etag', tagOf(cells))
  return { ...done, id, ...(!isMinimal(request, reply) && cells !== undefined && { cells }) }
}

async function addRows(
  session: BookSession,
  { params, body, query, request, reply }: Asked<'addRows'>,
  key: EditKey | undefined,
): Promise<WireAnswer<'addRows'>> {
  const isOne = !Array.isArray(body)
  const rows = (isOne ? [body] : body) as Record<string, CellValue>[]
  if (query.each === true && !isOne) {
    const bytes = new TextEncoder().encode(JSON.stringify(rows))
    return importRows(session, { params, query, request, reply }, bytes, key, 'json')
  }
  const change = await session.apply({ op: 'insert-rows', table: params.table, rows }, key === undefined ? {} : { key })
  const id = change.inserted.find(({ table }) => table === params.table)?.ids[0]
  const { rows: _, ...done } = doneOf(change, request)
  if (isOne && id !== undefined) {
    const [path] = request.url.split('?')
    reply.code(201).header('location', `${path}/${id}`)
    return writtenRow(session, change, { table: params.table, row: id }, { request, reply })
  }
  return { ...done, ...(!isMinimal(request, reply) && { rows: ownRows(change, params.table) }) }
}

async function importRows(
  session: BookSession,
  { params, query, request, reply }: Pick<Asked<'addRows'>, 'params' | 'query' | 'request' | 'reply'>,
  bytes: Uint8Array,
  key: EditKey | undefined,
  format: 'json' | 'ndjson' | 'csv' | 'arrow' = FORMATS[typeOfBody(request.headers['content-type']) as keyof typeof FORMATS],
): Promise<WireAnswer<'addRows'>> {
  const isShort = isMinimal(request, reply)
  const given = { format, bytes, each: query.each === true }
  const { change, refused } = await session.importRows(params.table, given, {
    returns: isShort ? 'minimal' : 'rows',
    ...(key !== undefined && { key }),
  })
  const { rows: _, ...done } = doneOf(change, request)
  const rows = isShort ? {} : { rows: ownRows(change, params.table) }
  return { ...done, ...rows, ...(query.each === true && { refused: [...refused] }) }
}

const ownRows = ({ rows }: AppliedChange, of: string): { id: number; cells: SessionCells }[] =>
  rows.flatMap(({ table, id, cells }) => (table === of ? [{ id, cells }] : []))
