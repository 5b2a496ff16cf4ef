import { createRequire } from 'node:module'
import { Worker } from 'node:worker_threads'

/** Time that looking at the batches of a file may take, and for each of its bytes; a sound file takes a hundredth of that. */
const LEAST_MS = 2500
const MS_A_BYTE = 1e-4

/**
 * Looks at the batches of an Arrow file in a thread of its own: an altered length can have the package count for hours, and
 * a thread can be ended.
 *
 * Errors: Error saying why the file cannot be read.
 */
export async function probeArrow(bytes: Uint8Array): Promise<void> {
  const path = createRequire(import.meta.url).resolve('apache-arrow')
  const worker = new Worker(PROBE, { eval: true, workerData: { path, bytes }, resourceLimits: { maxOldGenerationSizeMb: 512 } })
  const limit = LEAST_MS + bytes.byteLength * MS_A_BYTE
  try {
    await new Promise<void>((resolve, reject) => {
      const timer = setTimeout(() => reject(new Error('its lengths make no sense')), limit)
      const end = (fault: Error | null): void => {
        clearTimeout(timer)
        if (fault === null) resolve()
        else reject(fault)
      }
      worker.once('message', (fault: string | null) => end(fault === null ? null : new Error(fault)))
      worker.once('error', end)
    })
  } finally {
    await worker.terminate()
  }
}

const PROBE = `
const { parentPort, workerData } = require('node:worker_threads')
const { RecordBatchReader } = require(workerData.path)
try {
  const reader = RecordBatchReader.from(workerData.bytes).open()
  if (!reader.schema) throw new Error('there is no schema in it')
  for (const batch of reader) batch.numRows
  parentPort.postMessage(null)
} catch (error) {
  parentPort.postMessage(String(error.message))
}
`
