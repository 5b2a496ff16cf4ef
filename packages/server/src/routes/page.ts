import fastifyStatic from '@fastify/static'
import type { App } from './context.js'

/** A page that is served as it was built. */
export interface Page {
  /** The folder of its files; compressed ones stand beside those that they are of. */
  readonly folder: string
  /** What it may do in a browser (W3C Content Security Policy). */
  readonly policy: string
}

/** Files whose name holds a hash of what is in them. */
const NAMED_BY_HASH = /[\\/]assets[\\/]/

/** Puts in the page at which workbooks are looked at and edited. */
export async function pageRoutes(app: App, { folder, policy }: Page): Promise<void> {
  await app.register(fastifyStatic, {
    root: folder,
    // What there is, is known: nothing else is looked for among the files.
    wildcard: false,
    preCompressed: true,
    cacheControl: false,
    setHeaders: (reply, path) => {
      reply.header('content-security-policy', `${policy}; frame-ancestors 'none'`)
      // Tells the page that it is at home: it asks for workbooks only where there are some.
      if (/\.html(?:\.gz)?$/.test(path)) reply.header('server-timing', 'workbooks')
      reply.header('cache-control', NAMED_BY_HASH.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache')
    },
  })
}
