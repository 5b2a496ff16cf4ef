import type pg from 'pg'
import { ask } from './connection.js'
import { SCHEMA } from './migrations.js'

/** Milliseconds for which lines may wait to be written together, and until it is tried again where they could not be. */
const GATHERING_MS = 50
const AGAIN_MS = 1_000
/** Lines that wait while the database cannot be asked; those after them are lost, which is told. */
const MOST_WAITING = 100_000

/** The audit in a table that all servers of a store write. */
export class AuditTable {
  readonly #pool: pg.Pool
  /** Gets what went wrong with writing it. */
  onTrouble: (trouble: string) => void = () => undefined
  #waiting: object[] = []
  #timer: NodeJS.Timeout | null = null
  #writing: Promise<void> = Promise.resolve()

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  write(line: object): void {
    if (this.#waiting.length >= MOST_WAITING) return this.onTrouble(`a line of the audit is lost: ${JSON.stringify(line)}`)
    this.#waiting.push(line)
    this.#flushIn(GATHERING_MS)
  }

  #flushIn(ms: number): void {
    this.#timer ??= setTimeout(() => {
      this.#timer = null
      this.#writing = this.#flush()
    }, ms)
  }

  async #flush(): Promise<void> {
    const lines = this.#waiting
    this.#waiting = []
    try {
      await ask(this.#pool, `insert into ${SCHEMA}.audit (line) select * from unnest($1::jsonb[])`, [
        lines.map((line) => JSON.stringify(line)),
      ])
    } catch (error) {
      this.#waiting = [...lines, ...this.#waiting]
      this.onTrouble(`the audit cannot be written at the moment: ${(error as Error).message}`)
      this.#flushIn(AGAIN_MS)
    }
  }

  /** Writes what waits. */
  async close(): Promise<void> {
    if (this.#timer !== null) clearTimeout(this.#timer)
    await this.#writing
    if (this.#waiting.length > 0) await this.#flush()
    if (this.#timer !== null) clearTimeout(this.#timer)
  }
}
