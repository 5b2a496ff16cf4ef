import { type FaultFacts, SessionFault } from '../session-fault.js'
import type { WireProblem } from '../wire/index.js'

/** Tries of a request of which no answer came, or that is to be asked again. */
const MOST_TRIES = 5
const FIRST_PAUSE_MS = 200
const MOST_PAUSE_MS = 2_000

/** Says that what was asked for is being done: it is asked again, for as long as that takes. */
class StillRunning extends SessionFault {}

/** How a server is asked. */
export interface ConnectOptions {
  /** What is shown to it; nothing for one on this machine that takes everybody. */
  readonly token?: string
  /** What asks in place of the global `fetch`. */
  readonly fetch?: typeof fetch
}

/** What goes with a request. */
export interface Asking {
  readonly method?: 'GET' | 'POST' | 'PUT'
  readonly query?: Readonly<Record<string, string | number | boolean | undefined>>
  /** An object is sent as JSON. */
  readonly body?: unknown
  /** The media type of a body that is bytes. */
  readonly type?: string
  readonly headers?: Readonly<Record<string, string>>
  readonly signal?: AbortSignal
}

/** Asks one workbook of a server, as one who shows a token. */
export class Requests {
  /** The address of the workbook. */
  readonly url: string
  readonly #token: string | undefined
  readonly #fetch: typeof fetch

  constructor(url: string, { token, fetch: given = (...args) => fetch(...args) }: ConnectOptions) {
    this.url = url.replace(/\/+$/, '')
    this.#token = token
    this.#fetch = given
  }

  /**
   * Asks for something that is answered as JSON. A write is asked for under a key, so that it is done once however often it has
   * to be asked for.
   *
   * @throws SessionFault for a problem, and where the server cannot be reached
   */
  async json<Answer>(path: string, asking: Asking = {}): Promise<Answer> {
    return (await this.#answered(path, asking)).json() as Promise<Answer>
  }

  /** Asks for bytes. Throws as `json`. */
  async bytes(path: string, asking: Asking): Promise<Uint8Array> {
    return new Uint8Array(await (await this.#answered(path, asking)).arrayBuffer())
  }

  /** Asks once for a stream. Throws as `json`. */
  async stream(path: string, asking: Asking): Promise<ReadableStream<Uint8Array>> {
    const { body } = await this.#answer(path, asking)
    if (body === null) throw new SessionFault(LOST)
    return body
  }

  async #answered(path: string, asking: Asking): Promise<Response> {
    for (let tries = 1, pause = FIRST_PAUSE_MS; ; pause = Math.min(MOST_PAUSE_MS, pause * 2)) {
      try {
        return await this.#answer(path, asking)
      } catch (error) {
        const isWorthAnother = error instanceof SessionFault && (error.code === 'lost' || error.code === 'closed')
        if (!isWorthAnother || tries === MOST_TRIES) throw error
        if (!(error instanceof StillRunning)) tries++
      }
      await new Promise((resolve) => setTimeout(resolve, pause))
    }
  }

  async #answer(path: string, { method = 'GET', query = {}, body, type, headers = {}, signal }: Asking): Promise<Response> {
    const said = Object.entries(query).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]]))
    const search = said.length === 0 ? '' : `?${new URLSearchParams(said)}`
    let response: Response
    try {
      response = await this.#fetch(`${this.url}${path}${search}`, {
        method,
        headers: {
          ...headers,
          ...(this.#token !== undefined && { authorization: `Bearer ${this.#token}` }),
          ...(body !== undefined && { 'content-type': type ?? 'application/json' }),
        },
        ...(body !== undefined && { body: type === undefined ? JSON.stringify(body) : (body as Uint8Array<ArrayBuffer>) }),
        ...(signal !== undefined && { signal }),
      })
    } catch (error) {
      throw new SessionFault(LOST, { cause: error })
    }
    if (response.ok) return response
    throw await faultIn(response)
  }
}

const LOST: FaultFacts = { code: 'lost', message: 'The server cannot be reached at the moment.' }

/** A problem as sessions are told it. */
async function faultIn(response: Response): Promise<SessionFault> {
  let problem: Partial<WireProblem>
  try {
    problem = (await response.json()) as Partial<WireProblem>
  } catch {
    // A proxy may answer for a server that is not there.
    const facts: FaultFacts = { code: 'internal', message: `The server answered ${response.status}.` }
    return new SessionFault(response.status >= 500 ? LOST : facts)
  }
  const { code = 'internal', detail = '', findings, operation } = problem
  if (code === 'still-running') return new StillRunning({ code: 'lost', message: detail })
  const isBusy = response.status === 503 || response.status === 429
  return new SessionFault({
    code: (isBusy ? 'lost' : code) as FaultFacts['code'],
    message: detail,
    ...(findings !== undefined && { findings: findings as unknown as NonNullable<FaultFacts['findings']> }),
    ...(operation !== undefined && { operation }),
  })
}
