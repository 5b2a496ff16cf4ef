import * as v from 'valibot'

const count = v.pipe(v.number(), v.integer(), v.minValue(1))
const bytes = v.pipe(v.number(), v.integer(), v.minValue(1_024))

/** How a server runs. The same names stand in its configuration file, and in the environment as `MELLOW_BODY_BYTES` and so on. */
export const ServerOptionsSchema = v.strictObject({
  /** The folder of the workbooks. */
  folder: v.string(),
  /** The database in which the workbooks are kept, for several servers to share; in files of the folder when left out. */
  store: v.optional(v.string()),
  /** Where the other servers of the store ask this one; at its own address when left out. */
  reachedAt: v.optional(
    v.pipe(
      v.string(),
      v.url(),
      v.transform((url) => url.replace(/\/+$/, '')),
    ),
  ),
  /** The address to listen at; only this machine when left out. */
  host: v.optional(v.string(), '127.0.0.1'),
  /** The port; 0 for one that is free. */
  port: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(65_535)), 4_747),
  /** Workbooks open at once; the one longest not used is closed for another. */
  open: v.optional(count, 16),
  /** Worker threads in which workbooks are calculated: each has one of its own, unless more are open. */
  threads: v.optional(count, 16),
  /** Milliseconds after which a workbook that nobody uses is closed. */
  idleMs: v.optional(count, 600_000),
  /** Bytes of a body. */
  bodyBytes: v.optional(bytes, 10_000_000),
  /** Bytes of a file or of rows in an open format. */
  uploadBytes: v.optional(bytes, 200_000_000),
  /** Milliseconds for a request. */
  requestMs: v.optional(count, 30_000),
  /** Requests a second for each token; 0 for no limit. */
  rate: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0)), 100),
  /** Live feeds at once. */
  feeds: v.optional(count, 1_000),
  /** Bytes that may wait for a slow reader of the live feed. */
  feedBytes: v.optional(bytes, 1_000_000),
  /** Pairs of rows that a formula which is asked about may look at. */
  cost: v.optional(count, 1_000_000_000),
  /** The issuer of tokens of the organisation (OpenID Connect), with the audience that they are made for. */
  issuer: v.optional(v.pipe(v.string(), v.url())),
  audience: v.optional(v.string()),
  /** Claims of such tokens: a list of `<book>:<role>`, a list of groups, and the name. */
  rolesClaim: v.optional(v.string(), 'roles'),
  groupsClaim: v.optional(v.string(), 'groups'),
  nameClaim: v.optional(v.string(), 'name'),
  /** Origins of pages that may ask from a browser; none when left out. */
  origins: v.optional(v.array(v.string()), []),
  /** True behind a proxy that says where requests come from. */
  proxied: v.optional(v.boolean(), false),
  /** The file of the audit; beside the workbooks when left out. */
  audit: v.optional(v.string()),
  /** Bytes of an audit file before the next one is begun, and how many are kept. */
  auditBytes: v.optional(bytes, 10_000_000),
  auditFiles: v.optional(count, 10),
  /** The level of the log. */
  log: v.optional(v.picklist(['silent', 'error', 'warn', 'info', 'debug']), 'info'),
})

/** How a server is to run; what is left out is as usual. */
export type GivenServerOptions = v.InferInput<typeof ServerOptionsSchema>
/** How a server runs. */
export type ServerOptions = v.InferOutput<typeof ServerOptionsSchema>

/** Thrown for options of which a server cannot be made. */
export class ServerOptionsFault extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'ServerOptionsFault'
  }
}

/**
 * Reads how a server is to run.
 *
 * @throws ServerOptionsFault naming what is not as it should be
 */
export function readServerOptions(given: unknown): ServerOptions {
  const read = v.safeParse(ServerOptionsSchema, given)
  if (read.success) return read.output
  const [issue] = read.issues
  throw new ServerOptionsFault(`${v.getDotPath(issue) ?? 'the options'}: ${issue.message}`)
}

/** Options of the environment: `MELLOW_PORT` says `port`, `MELLOW_BODY_BYTES` says `bodyBytes`. */
export function optionsOfEnvironment(environment: Readonly<Record<string, string | undefined>>): Record<string, unknown> {
  const given: Record<string, unknown> = {}
  for (const [name, schema] of Object.entries(ServerOptionsSchema.entries)) {
    const text = environment[`MELLOW_${name.replace(/[A-Z]/g, (letter) => `_${letter}`).toUpperCase()}`]
    if (text === undefined) continue
    const inner: { readonly type: string } = 'wrapped' in schema ? schema.wrapped : schema
    if (inner.type === 'number') given[name] = Number(text)
    else if (inner.type === 'boolean') given[name] = text === 'true'
    else given[name] = inner.type === 'array' ? text.split(',').map((one) => one.trim()) : text
  }
  return given
}
