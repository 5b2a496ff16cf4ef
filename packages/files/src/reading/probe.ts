import { Worker } from 'node:worker_threads'

/** Time that a thread may take to start and load its package, on a machine that has much else to do. */
const FIRST_MS = 15_000

/** What a look at a file says as it goes. */
type ProbeNews =
  /** It goes on, and needs at most so long from now. */
  | { readonly within: number }
  /** It is over, with what is wrong with the file. */
  | { readonly fault: string | null }

/**
 * Lets a script look at a file in a thread of its own, before it is read here: an altered length can have a package count
 * for hours, run out of memory, or throw where no one can catch it, and a thread can be ended.
 *
 * @param script - the body of an async function; it has `data`, says how long it may take by `tell({ within: milliseconds })` once
 * it begins to look, and throws what is wrong
 * @throws Error saying why the file cannot be read.
 */
export async function probe(script: string, data: object, memoryMb: number): Promise<void> {
  const worker = new Worker(
    `${FRAME}(async () => {${script}})().then(() => end(null), (error) => end(String(error?.message ?? error)))`,
    {
      eval: true,
      workerData: data,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb },
    },
  )
  try {
    await new Promise<void>((resolve, reject) => {
      let timer = setTimeout(() => reject(new Error(NO_SENSE)), FIRST_MS)
      worker.on('message', (news: ProbeNews) => {
        clearTimeout(timer)
        if ('within' in news) timer = setTimeout(() => reject(new Error(NO_SENSE)), news.within)
        else if (news.fault === null) resolve()
        else reject(new Error(news.fault))
      })
      worker.once('error', (error) => {
        clearTimeout(timer)
        reject(error)
      })
      // A promise that never settles leaves a thread with nothing to do.
      worker.once('exit', () => {
        clearTimeout(timer)
        reject(new Error(NO_SENSE))
      })
    })
  } finally {
    await worker.terminate()
  }
}

const NO_SENSE = 'its lengths make no sense'

const FRAME = `
const { parentPort, workerData: data } = require('node:worker_threads')
const tell = (news) => parentPort.postMessage(news)
const end = (fault) => tell({ fault });
`
