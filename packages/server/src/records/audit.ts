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

/** Every change and every refusal, a line of JSON each; files are rotated. */
export class Audit {
  readonly #stream: RotatingFileStream

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
    this.#stream.write(`${JSON.stringify(line)}\n`)
  }

  async close(): Promise<void> {
    this.#stream.end()
    await once(this.#stream, 'close')
  }
}
