import type { AppliedChange, BookSession, TurnOptions } from '@mellow-abacus/session'
import type { WireAnswer } from '@mellow-abacus/session/wire'
import type { Operation } from 'mellow-abacus'
import { type App, answer, atBook, isMinimal, type ServerContext } from './context.js'
import { doneOf } from './done.js'

/** Addresses of operations, and of steps that are turned. */
export function editRoutes(app: App, context: ServerContext): void {
  const { keyed } = context

  answer(app, 'operations', (asked) =>
    atBook(context, asked, async ({ session, caller }): Promise<WireAnswer<'operations'>> => {
      const { body, query, request, reply } = asked
      const operations = body as unknown as readonly Operation[]
      if (query.preview === true) return (await session.preview(operations)) as unknown as WireAnswer<'operations'>
      const isShort = isMinimal(request, reply)
      const change = await keyed.once(request, { caller: caller.id }, (key) =>
        session.apply(operations, {
          returns: isShort ? 'minimal' : 'rows',
          ...(key !== undefined && { key }),
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

function turned(session: BookSession, kind: 'undo' | 'redo', options: TurnOptions): Promise<AppliedChange | null> {
  return session[kind](options)
}
