import type { AppliedChange, BookSession, EditOptions, TurnOptions } from '@mellow-abacus/session'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import type { Operation } from 'mellow-abacus'
import { HttpProblem } from '../http/index.js'
import { type App, answer, atBook, isMinimal, type ServerContext } from './context.js'
import { doneOf } from './done.js'

/** Addresses of operations, and of steps that are turned. */
export function editRoutes(app: App, context: ServerContext): void {
  const { keyed } = context

  answer(app, 'operations', (asked) =>
    atBook(context, asked, async ({ session, caller }): Promise<WireAnswer<'operations'>> => {
      const { body, query, request, reply } = asked
      const { operations, asSeen } = operationsOf(body)
      refuseIds(operations)
      if (query.preview === true) return (await session.preview(operations)) as unknown as WireAnswer<'operations'>
      const isShort = isMinimal(request, reply)
      const change = await keyed.once(request, { caller: caller.id }, (key) =>
        session.apply(operations, {
          returns: isShort ? 'minimal' : 'rows',
          ...(key !== undefined && { key }),
          ...(asSeen !== undefined && { asSeen }),
          ...(query.revision !== undefined && { expects: query.revision }),
          ...(query.strict === true && { strict: true }),
          ...(query.expects !== undefined && { seen: query.expects }),
        }),
      )
      const { rows, ...done } = doneOf(change, request)
      return isShort ? done : { ...done, rows: rows ?? [] }
    }),
  )

  const turn = (kind: 'undo' | 'redo'): void =>
    answer(app, kind, (asked) =>
      atBook(context, asked, ({ session, caller }) => {
        const { request, reply } = asked
        const returns = isMinimal(request, reply) ? 'minimal' : 'rows'
        return keyed.once(request, { caller: caller.id }, async (key): Promise<WireAnswer<'undo'>> => {
          const change = await turned(session, kind, { returns, ...(key !== undefined && { key }) })
          return change === null ? null : doneOf(change, request)
        })
      }),
    )
  turn('undo')
  turn('redo')
}

/** Ids are given by the server. */
function refuseIds(operations: readonly Operation[] | Operation): void {
  for (const operation of [operations].flat())
    if ('ids' in operation && operation.op === 'insert-rows')
      throw new HttpProblem({
        status: 400,
        code: 'bad-operation',
        detail: `${operation.op}: ids are given by the server.`,
        operation,
      })
}

function operationsOf(body: unknown): { operations: readonly Operation[]; asSeen?: EditOptions['asSeen'] } {
  if (typeof body === 'object' && body !== null && 'asSeen' in body && !('op' in body)) return body as never
  return { operations: body as readonly Operation[] }
}

function turned(session: BookSession, kind: 'undo' | 'redo', options: TurnOptions): Promise<AppliedChange | null> {
  return session[kind](options)
}
