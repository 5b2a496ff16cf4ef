/// <reference types="vite/client" />
import { openInWorker } from '@mellow-abacus/host'
import { type BookSession, connect } from '@mellow-abacus/session'
import workerAddress from './book-worker?worker&url'
import type { Beginning, FileToRead, OfWorker, ReadFile, WorkerAnswer } from './of-worker'
import { trustedScript } from './trusted-script'

/** Where an open workbook is held, and what can be done there besides what its session does. */
export interface BookSource {
  readonly session: BookSession
  /** What it is called in the head of the page. */
  readonly name: string
  /** Says which workbook it is, as long as the browser is open. */
  readonly address: string
  /** True where each step is kept for good at once; false in a page, which keeps it until it is closed. */
  readonly isKept: boolean
  /** The table that is looked at first; the first one when left out. */
  readonly first?: string
  /** The workbook as bytes that can be kept and opened again: a bundle, or the file of the one who serves it. */
  bytes(): Promise<Uint8Array>
  close(): void
}

/** What the ending of a file of `bytes` is. */
export const BUNDLE_ENDING = '.bundle'

/** Talks with a worker: each question has an answer. */
class AskedWorker {
  readonly worker: Worker = new Worker(trustedScript(workerAddress), { type: 'module' })
  readonly #waiting: Map<number, { resolve: (done: never) => void; reject: (fault: Error) => void }> = new Map()
  #calls = 0

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<WorkerAnswer & { readonly call: number }>) => {
      const waiting = this.#waiting.get(data.call)
      this.#waiting.delete(data.call)
      if ('fault' in data) waiting?.reject(new Error(data.fault))
      else waiting?.resolve(data.done as never)
    }
    this.worker.onerror = ({ message }) => {
      for (const { reject } of this.#waiting.values()) reject(new Error(message))
      this.#waiting.clear()
    }
  }

  ask<Done>(what: Omit<Exclude<OfWorker, { readonly open: unknown }>, 'call'>): Promise<Done> {
    const call = ++this.#calls
    this.worker.postMessage({ call, ...what })
    return new Promise((resolve, reject) => this.#waiting.set(call, { resolve, reject }))
  }
}

/** Who the one at this page is, to a workbook that is held in it. */
const YOU = { role: 'own', author: 'you' } as const

/**
 * Opens a workbook that the page holds itself, in a worker.
 *
 * @throws Error for a bundle that is none
 */
export async function openHere(beginning: Beginning, name: string, first?: string): Promise<BookSource> {
  const asked = new AskedWorker()
  try {
    await asked.ask({ begin: beginning })
    const session = await openInWorker(asked.worker, YOU)
    return {
      ...{ session, name, address: `here ${name}`, isKept: false },
      ...(first !== undefined && { first }),
      bytes: () => asked.ask({ bundle: true }),
      close: () => asked.worker.terminate(),
    }
  } catch (error) {
    asked.worker.terminate()
    throw error
  }
}

/** Opens a workbook that a server holds. */
export async function openServed(url: string, token: string | null): Promise<BookSource> {
  const given = token === null ? {} : { token }
  const session = await connect(url, given)
  return {
    ...{ session, name: decodeURIComponent(url.split('/').at(-1) ?? ''), address: url, isKept: true },
    bytes: async () => {
      const headers = token === null ? {} : { authorization: `Bearer ${token}` }
      const answer = await fetch(`${url}/file`, { headers })
      if (!answer.ok) throw new Error(`The server answered with ${answer.status}.`)
      return new Uint8Array(await answer.arrayBuffer())
    },
    close: () => void session.close(),
  }
}

/**
 * Reads a file of rows, in a worker of its own so that the page stays alive.
 *
 * @throws Error with what is wrong with the file
 */
export async function readFileOfRows(file: FileToRead): Promise<ReadFile> {
  const asked = new AskedWorker()
  try {
    return await asked.ask<ReadFile>({ read: file })
  } finally {
    asked.worker.terminate()
  }
}
