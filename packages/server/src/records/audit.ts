import { once } from 'node:events'
import { basename, dirname } from 'node:path'
import { createStream, type RotatingFileStream } from 'rotating-file-stream'

/** A change or a refusal, as it is written down. */
export interface AuditLine {
  readonly at: string
  /** Names the request in the log. */
  readonly request: string
  /** Who asked: the name, and the id of what they showed; null for one who showed nothing. */
  readonly who: string | null
  readonly token: string | null
  /** Where the request came from. */
  readonly from: string
  /** What was asked for: the method and the address, without values. */
  readonly what: string
  readonly book: string | null
  readonly status: number
  /** What stood against it. */
  readonly code: string | null
  /** What the workbook was at then. */
  readonly revision: number | null
}

/** Milliseconds for which lines may wait to be written together. */
const GATHERING_MS = 20

/** Where the audit is written. */
export interface AuditLines {
  write(line: AuditLine): void
  /** Writes what waits, and ends. */
  close(): Promise<void>
}

/** Every change and every refusal, a line of JSON each; files are rotated. */
export class Audit implements AuditLines {
  readonly #stream: RotatingFileStream
  #waiting = ''
  #timer: NodeJS.Timeout | null = null

  /** @param bytes - of a file before the next one is begun */
  constructor(path: string, bytes: number, files: number) {
    const name = basename(path)
    this.#stream = createStream((_, index) => (index === undefined || index === null ? name : `${name}.${index}`), {
      path: dirname(path),
      size: `${bytes}B`,
      rotate: files,
      mode: 0o600,
    })
  }

  write(line: AuditLine): void {
    this.#waiting += `${JSON.stringify(line)}\n`
    this.#timer ??= setTimeout(() => this.#flush(), GATHERING_MS)
  }

  #flush(): void {
    this.#timer = null
    this.#stream.write(this.#waiting)
    this.#waiting = ''
  }

  async close(): Promise<void> {
    if (this.#timer !== null) {
      clearTimeout(this.#timer)
      this.#flush()
    }
    this.#stream.end()
    await once(this.#stream, 'close')
  }
}
