import { SessionFault } from '@mellow-abacus/session'
import type { BookReader, Operation, ReaderOptions, Workbook, WorkbookOptions, WorkbookView } from 'mellow-abacus'

/** A step of the history of a workbook, as it is kept. */
export interface KeptStep {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  readonly at: string
  readonly author: string
  readonly operations: readonly Operation[]
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}

/** An answer that is given again when the same is asked for under the same key. */
export interface KeptAnswer {
  /** What was asked for, as a hash. */
  readonly fingerprint: string
  /** What the reader might see, as a text. */
  readonly seen: string
  /** When, in milliseconds since 1970. */
  readonly at: number
  /** The answer as JSON. */
  readonly answer: string
}

/** An open workbook, in memory or in a file, as a host holds it. */
export interface HeldBook {
  readonly view: WorkbookView
  /** The workbook as one reader has it, who also changes it. */
  reader(options: ReaderOptions): BookReader
  /** Lets the calls that follow be kept for good only when they are committed. */
  stage(): void
  /**
   * Keeps the calls since `stage` for good.
   *
   * @throws where that cannot be: then none of them has happened, and the workbook is to be opened anew
   */
  commit(): void
  /** The same workbook as it was last kept, opened anew. */
  reopened(): HeldBook
  /** The steps after a revision, the oldest first. */
  stepsAfter(revision: number): Iterable<KeptStep>
  /** The operations that take a step back. */
  inverseOf(revision: number): readonly Operation[]
  /** The answer that was kept under a key. */
  answerTo(key: string): KeptAnswer | undefined
  /**
   * Keeps an answer, for good together with what it is about.
   *
   * @param keptSince - answers from before are forgotten, in milliseconds since 1970
   */
  keepAnswer(key: string, answer: KeptAnswer, keptSince: number): void
  /**
   * Writes a copy of it as it was last kept into another file.
   *
   * @throws where there is no file of it, or none can be written there
   */
  copyTo(path: string): void
  close(): void
  /** Closes it as it was last kept. */
  abandon(): void
}

/**
 * A workbook in memory: what is done to it is kept as long as the program runs.
 *
 * @param make - makes the workbook with these options, whatever its others
 */
export function heldWorkbook(make: (options: Required<Pick<WorkbookOptions, 'keep'>>) => Workbook): HeldBook {
  const steps: KeptStep[] = []
  const inverses = new Map<number, readonly Operation[]>()
  const answers = new Map<string, KeptAnswer>()
  const workbook = make({
    keep: ({ kind, change: { revision, at, author, operations, inverse, recalculated } }) => {
      const counts = recalculated.map(({ table, column, rows }) => ({ table, column, rows }))
      steps.push({ revision, kind, at: at ?? '', author: author ?? '', operations, recalculated: counts })
      inverses.set(revision, inverse)
      return undefined
    },
  })
  const held: HeldBook = {
    view: workbook.view,
    reader: (options) => workbook.reader(options),
    stage: () => undefined,
    commit: () => undefined,
    reopened: () => held,
    stepsAfter: (revision) => steps.filter((step) => step.revision > revision),
    inverseOf: (revision) => inverses.get(revision) ?? [],
    answerTo: (key) => answers.get(key),
    keepAnswer: (key, answer, keptSince) => {
      for (const [known, { at }] of answers) if (at < keptSince) answers.delete(known)
      answers.set(key, answer)
    },
    copyTo: () => {
      throw new SessionFault({ code: 'not-found', message: 'The workbook is in memory: there is no file of it.' })
    },
    close: () => undefined,
    abandon: () => undefined,
  }
  return held
}
