/**
 * The thread in which a file is looked at before it is read: started by `platform/node.ts`, told which look to take.
 * @module
 */
import { parentPort, workerData } from 'node:worker_threads'
import type { Look, LookName } from './looks/look.js'

const looks: Readonly<Record<LookName, () => Promise<Look>>> = {
  arrow: async () => (await import('./looks/arrow-look.js')).arrowLook,
  parquet: async () => (await import('./looks/parquet-look.js')).parquetLook,
}

const { name, bytes } = workerData as { readonly name: LookName; readonly bytes: Uint8Array }
const tell = (news: { readonly within: number } | { readonly fault: string | null }): void => parentPort?.postMessage(news)

looks[name]()
  .then((look) => look(bytes, (within) => tell({ within })))
  .then(
    () => tell({ fault: null }),
    (error: unknown) => tell({ fault: error instanceof Error ? error.message : String(error) }),
  )
