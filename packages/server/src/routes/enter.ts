import { HttpProblem } from '../http/index.js'
import { type App, answer, type ServerContext } from './context.js'

/** The address at which an invitation is exchanged. */
export function enterRoutes(app: App, { door }: ServerContext): void {
  answer(app, 'enter', async ({ body, reply }) => {
    const taken = door.handed.take(body.invitation)
    if (taken === undefined)
      throw new HttpProblem({ status: 403, code: 'bad-invitation', detail: 'This invitation is none, or was taken up already.' })
    const { token, caller } = taken
    reply.header('cache-control', 'no-store')
    return { token, books: [...caller.roles].map(([name, role]) => ({ name, role })) }
  })
}
