import { statSync } from 'node:fs'
import type { Io } from './io.js'

/** Files smaller than this are read before a bar could be seen. */
const WORTH_A_BAR = 4_000_000

/** Shows how much of a file is read; nothing where notes do not go to a terminal. */
export interface ReadingBar {
  readonly onProgress?: (bytes: number) => void
  stop(): void
}

/** A bar for reading a file, if it is large enough to be worth one. The package is loaded only then. */
export async function readingBar(path: string, io: Io): Promise<ReadingBar> {
  const size = path === '-' ? 0 : statSync(path).size
  if (!io.showsProgress || size < WORTH_A_BAR) return { stop: () => undefined }
  const { default: progress } = await import('cli-progress')
  const bar = new progress.SingleBar(
    {
      format: 'reading {bar} {percentage} %  {megabytes} of {all} MB',
      clearOnComplete: true,
      hideCursor: true,
      stream: process.stderr,
    },
    progress.Presets.shades_classic,
  )
  const megabytes = (bytes: number): string => (bytes / 1e6).toFixed(1)
  bar.start(size, 0, { megabytes: '0.0', all: megabytes(size) })
  return { onProgress: (bytes) => bar.update(bytes, { megabytes: megabytes(bytes) }), stop: () => bar.stop() }
}
