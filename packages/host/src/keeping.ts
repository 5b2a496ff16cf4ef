import { MessageChannel, type MessagePort, receiveMessageOnPort } from 'node:worker_threads'
import { BookFileFault, type Keeper, type WrittenRow } from '@mellow-abacus/files'

/** Milliseconds for which a thread waits to hear that something is kept; whoever keeps it gives up before. */
const LONGEST_KEEPING_MS = 60_000

/** What a thread is given to have kept elsewhere what it writes. */
export interface KeepingLine {
  readonly port: MessagePort
  /** A whole number that counts the answers, on which the thread waits. */
  readonly answered: SharedArrayBuffer
}

interface KeepingQuestion {
  readonly number: number
  readonly written: readonly WrittenRow[]
}

/** What a thread is told of what it wanted kept: null for done, else why it cannot be. */
interface KeepingAnswer {
  readonly number: number
  readonly failed: string | null
}

/**
 * Keeps by asking over a line, and waits for the answer without doing anything else: a workbook shows nothing that is not kept, so
 * there is nothing that it could do meanwhile. Whoever answers must not wait for this thread.
 */
export function keeperOver({ port, answered }: KeepingLine): Keeper {
  const count = new Int32Array(answered)
  let asked = 0
  return (written) => {
    const before = Atomics.load(count, 0)
    port.postMessage({ number: ++asked, written } satisfies KeepingQuestion)
    Atomics.wait(count, 0, before, LONGEST_KEEPING_MS)
    const answer = answerTo(port, asked)
    const failed = answer === undefined ? 'nobody says whether it is kept' : answer.failed
    if (failed !== null) throw new BookFileFault('unwritable', failed)
  }
}

/** The answer to a question; those to questions that were given up are passed over. */
function answerTo(port: MessagePort, asked: number): KeepingAnswer | undefined {
  for (;;) {
    const answer = receiveMessageOnPort(port)?.message as KeepingAnswer | undefined
    if (answer === undefined || answer.number === asked) return answer
  }
}

/**
 * Answers a thread that wants something kept, one thing after the other.
 *
 * @param keep - keeps it for good; rejects where it cannot be
 * @returns what the thread is given
 */
export function keepingLine(keep: (written: readonly WrittenRow[]) => Promise<void>): KeepingLine {
  const { port1, port2 } = new MessageChannel()
  const answered = new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT)
  const count = new Int32Array(answered)
  port1.on('message', async ({ number, written }: KeepingQuestion) => {
    const failed = await keep(written).then(
      () => null,
      (error: Error) => error.message,
    )
    port1.postMessage({ number, failed } satisfies KeepingAnswer)
    Atomics.add(count, 0, 1)
    Atomics.notify(count, 0)
  })
  return { port: port2, answered }
}
