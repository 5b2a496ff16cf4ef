import type pg from 'pg'

/** What is asked of a fleet, besides the path. */
export interface FleetQuestion {
  readonly method?: string
  readonly body?: unknown
  /** An idempotency key. */
  readonly key?: string
  /** One of the servers; through nginx when left out. */
  readonly url?: string
}

export interface FleetAnswer {
  readonly status: number
  readonly text: string
  // biome-ignore lint/suspicious/noExplicitAny: a test looks for what there should be
  readonly json: any
}

/** The path of nginx; empty where there is none. */
export declare const NGINX: string

export declare function pause(ms: number): Promise<void>

/** Servers over one store as processes, with nginx in front where it is installed. */
export declare class Fleet {
  readonly ports: readonly number[]
  readonly url: string
  readonly token: string
  readonly database: pg.Pool
  static begin(options: {
    readonly store: string
    readonly servers: number
    /** Workbooks that each has open at once. */
    readonly open?: number
    readonly isLoud?: boolean
  }): Promise<Fleet>
  urlOf(index: number): string
  start(index: number): Promise<void>
  signal(index: number, name: NodeJS.Signals): void
  /** Ends a server without a word. */
  kill(index: number): Promise<void>
  /** Ends a server in an orderly way. */
  stop(index: number): Promise<void>
  /** Asks, once; null where no answer came. */
  once(path: string, question?: FleetQuestion): Promise<FleetAnswer | null>
  /** Asks until it is answered, as clients do. */
  ask(path: string, question?: FleetQuestion): Promise<FleetAnswer>
  /** The names of the workbooks that a server has now. */
  booksOf(index: number): Promise<string[]>
  close(): Promise<void>
}
