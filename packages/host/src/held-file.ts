import { BookFile, type OpenOptions } from '@mellow-abacus/files'
import type { HeldBook, KeptStep } from './held-book.js'

/**
 * A workbook file, opened to be changed: one process at a time has it.
 *
 * @throws BookFileFault as `BookFile.open`
 */
export function heldFile(path: string, options: Pick<OpenOptions, 'waitMs'> = {}): HeldBook {
  const file = BookFile.open(path, { ...options, writes: true })
  return {
    view: file.book,
    reader: (reader) => file.reader(reader),
    stage: () => file.stage(),
    commit: () => file.commit(),
    reopened: () => {
      file.abandon()
      return heldFile(path, options)
    },
    *stepsAfter(revision): Generator<KeptStep> {
      for (const step of file.journal()) if (step.revision > revision) yield step
    },
    inverseOf: (revision) => file.inverseOf(revision),
    answerTo: (key) => file.answerTo(key),
    keepAnswer: (key, answer, keptSince) => file.keepAnswer(key, answer, keptSince),
    copyTo: (target) => file.copyTo(target),
    close: () => file.close(),
  }
}
