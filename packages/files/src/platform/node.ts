import { createRequire } from 'node:module'
import { pathToFileURL } from 'node:url'
import { Worker } from 'node:worker_threads'
import { crc32 as checksum } from 'node:zlib'
import type { LookName } from '../looks/look.js'
import type { ByteSink, WritingOptions } from '../writing/formats.js'
import type { Loss } from '../writing/losses.js'
import type { NamedResult } from '../writing/named-result.js'

/** Time that a thread may take to start and load its package, on a machine that has much else to do. */
const FIRST_MS = 15_000

/** What a look at a file says as it goes. */
type LookNews =
  /** It goes on, and needs at most so long from now. */
  | { readonly within: number }
  /** It is over, with what is wrong with the file. */
  | { readonly fault: string | null }

const NO_SENSE = 'its lengths make no sense'

/**
 * Looks at a file in a thread of its own, before it is read here: an altered length can have a package count for hours, run out
 * of memory, or throw where no one can catch it, and a thread can be ended.
 *
 * @throws Error saying why the file cannot be read
 */
export async function lookAtFile(name: LookName, bytes: Uint8Array, memoryMb: number): Promise<void> {
  // Found by the package's own name for it, so that sources and bundles start the same built module.
  const module = createRequire(import.meta.url).resolve('#look-worker')
  const worker = new Worker(pathToFileURL(module), {
    workerData: { name, bytes },
    resourceLimits: { maxOldGenerationSizeMb: memoryMb },
  })
  try {
    await new Promise<void>((resolve, reject) => {
      let timer = setTimeout(() => reject(new Error(NO_SENSE)), FIRST_MS)
      worker.on('message', (news: LookNews) => {
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

/** Writes XLSX. */
export async function writeXlsxHere(
  tables: readonly NamedResult[],
  sink: ByteSink,
  options: WritingOptions,
): Promise<readonly Loss[]> {
  return (await import('../writing/write-xlsx.js')).writeXlsx(tables, sink, options)
}

/** CRC-32 of bytes (ISO 3309), going on from that of those before. */
export function crc32(bytes: Uint8Array, before = 0): number {
  return checksum(bytes, before)
}
