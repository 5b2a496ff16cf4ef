import { randomBytes, randomUUID } from 'node:crypto'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { McpServer } from '@modelcontextprotocol/sdk/server/mcp.js'
import { StreamableHTTPServerTransport } from '@modelcontextprotocol/sdk/server/streamableHttp.js'
import type { Transport } from '@modelcontextprotocol/sdk/shared/transport.js'

/** The door over HTTP, until it is closed. */
export interface HttpDoor {
  /** The whole address, with the key that lets in. */
  readonly url: string
  close(): Promise<void>
}

/** Assistants that talk at the same time. */
const MOST_ASSISTANTS = 16

/**
 * Opens the door over HTTP, on this machine only. The address holds a key that is made anew each time, so that no page in a browser
 * and no other user comes in by guessing it.
 *
 * @throws Error where the port is taken
 */
export async function openHttpDoor(port: number, make: () => McpServer): Promise<HttpDoor> {
  const path = `/assistant/${randomBytes(18).toString('base64url')}`
  const talks = new Map<string, StreamableHTTPServerTransport>()
  const http = createServer((request, response) => {
    serve(request, response).catch((error: Error) => {
      process.stderr.write(`${error.stack ?? error.message}\n`)
      refuse(response, 500, 'Something went wrong here; the terminal says what.')
    })
  })
  const serve = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    if (new URL(request.url ?? '', 'http://here').pathname !== path || request.headers.origin !== undefined)
      return refuse(response, 404, 'There is nothing here.')
    const known = talks.get(String(request.headers['mcp-session-id'] ?? ''))
    if (known !== undefined) return known.handleRequest(request, response)
    if (request.headers['mcp-session-id'] !== undefined) return refuse(response, 404, 'That talk has ended; begin a new one.')
    if (talks.size >= MOST_ASSISTANTS) return refuse(response, 503, 'Too many assistants are here.')
    const talk = new StreamableHTTPServerTransport({
      sessionIdGenerator: () => randomUUID(),
      onsessioninitialized: (id) => void talks.set(id, talk),
      onsessionclosed: (id) => void talks.delete(id),
    })
    // The transport names its callbacks as optional in another way than its own interface does.
    await make().connect(talk as unknown as Transport)
    await talk.handleRequest(request, response)
  }
  await new Promise<void>((resolve, reject) => {
    http.once('error', reject)
    http.listen(port, '127.0.0.1', resolve)
  })
  const { port: taken } = http.address() as AddressInfo
  return {
    url: `http://127.0.0.1:${taken}${path}`,
    close: async () => {
      await Promise.all([...talks.values()].map((talk) => talk.close()))
      http.closeAllConnections()
      await new Promise((resolve) => http.close(resolve))
    },
  }
}

function refuse(response: ServerResponse, status: number, message: string): void {
  if (response.headersSent) return void response.end()
  response.writeHead(status, { 'content-type': 'application/json' })
  response.end(JSON.stringify({ jsonrpc: '2.0', error: { code: -32_000, message }, id: null }))
}
