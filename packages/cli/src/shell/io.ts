import { forEyes } from './foreign-text.js'

/** Where a verb writes and what it may do there: a process's streams, or a test's. */
export interface Io {
  /** Writes results for programs, exactly as they are. */
  out(text: string | Uint8Array): void | Promise<void>
  /** Writes results for the eye: what would steer the terminal is shown instead. */
  show(text: string): void
  /** Writes findings, progress and notes, for the eye too. */
  err(text: string): void
  /** True when results go to a terminal. */
  readonly isTerminal: boolean
  /** True when notes go to a terminal, so that progress may be drawn. */
  readonly showsProgress: boolean
  /** True when colours are wanted and can be shown. */
  colours: boolean
  /** Width of the terminal in characters. */
  readonly columns: number
  /** The bytes of standard input. */
  readonly input: AsyncIterable<Uint8Array>
}

/** The streams of this process. A reader that closes the pipe ends the tool quietly. */
export function processIo(): Io {
  const quietEnd = (error: NodeJS.ErrnoException): void => {
    if (error.code === 'EPIPE') process.exit(0)
    throw error
  }
  process.stdout.on('error', quietEnd)
  process.stderr.on('error', quietEnd)
  return {
    // Bytes are lent for the call only, so it waits until they are written.
    out: (text) =>
      typeof text === 'string'
        ? void process.stdout.write(text)
        : new Promise((resolve) => process.stdout.write(text, () => resolve())),
    show: (text) => void process.stdout.write(forEyes(text)),
    err: (text) => void process.stderr.write(forEyes(text)),
    isTerminal: process.stdout.isTTY === true,
    showsProgress: process.stderr.isTTY === true,
    colours: process.stdout.isTTY === true && process.stderr.isTTY === true && !process.env.NO_COLOR,
    columns: process.stdout.columns || 120,
    input: process.stdin,
  }
}
