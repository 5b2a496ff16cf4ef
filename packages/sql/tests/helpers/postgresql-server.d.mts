/** A server of PostgreSQL that a test or a benchmark has for itself. */
export interface TestServer {
  /** The address of its first database, without a password. */
  readonly address: string
  readonly port: number
  /** Ends it as a crash does, and begins it again. */
  restart(): void
  stop(): void
}

/** Starts a server of PostgreSQL on a free port of this machine, in a folder of its own. */
export declare function startServer(): Promise<TestServer>
