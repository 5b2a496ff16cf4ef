import type { Io } from '../shell/index.js'

/** Shows how far a long piece of work is. */
export interface Bar {
  readonly update: (done: number) => void
  readonly stop: () => void
}

const NO_BAR: Bar = { update: () => undefined, stop: () => undefined }

/** How large a piece of work must be before a bar could be seen: bytes to read, rows to write, cells that wait because they take long. */
const WORTH_A_BAR = { bytes: 4_000_000, rows: 200_000, cells: 1 } as const

/** What a bar says of its work. */
export interface BarWork {
  readonly verb: 'reading' | 'writing' | 'calculating'
  readonly total: number
  readonly unit: keyof typeof WORTH_A_BAR
}

/**
 * A bar on standard error; nothing where notes do not go to a terminal, or the work is done before a bar could be seen. The
 * package is loaded only for a bar.
 */
export async function startBar({ verb, total, unit }: BarWork, io: Io): Promise<Bar> {
  if (!io.showsProgress || total < WORTH_A_BAR[unit]) return NO_BAR
  const { default: progress } = await import('cli-progress')
  const shown = (done: number): string =>
    unit === 'bytes' ? `${(done / 1e6).toFixed(1)} MB` : `${done.toLocaleString('en')} ${unit}`
  const bar = new progress.SingleBar(
    {
      format: `${verb} {bar} {percentage} %  {shown} of ${shown(total)}`,
      clearOnComplete: true,
      hideCursor: true,
      stream: process.stderr,
    },
    progress.Presets.shades_classic,
  )
  bar.start(total, 0, { shown: shown(0) })
  return { update: (done) => bar.update(done, { shown: shown(done) }), stop: () => bar.stop() }
}
