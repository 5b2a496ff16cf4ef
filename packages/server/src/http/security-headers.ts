import type { IncomingMessage, ServerResponse } from 'node:http'
import helmet from 'helmet'

/** The headers that keep a browser from doing what no page of ours needs; the same with every answer, so made once. */
export function securityHeaders(): Readonly<Record<string, string>> {
  const headers: Record<string, string> = {}
  const response = {
    setHeader: (name: string, value: string) => {
      headers[name.toLowerCase()] = value
    },
    removeHeader: () => undefined,
  }
  const protect = helmet({
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginEmbedderPolicy: { policy: 'require-corp' },
    contentSecurityPolicy: { useDefaults: false, directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] } },
  })
  protect({} as IncomingMessage, response as unknown as ServerResponse, (error) => {
    if (error !== undefined) throw error
  })
  return headers
}
