import { BookFile, type OpenOptions } from '@mellow-abacus/files'
import { SessionFault } from '@mellow-abacus/session'
import type { HeldBook, KeptStep } from './held-book.js'

/**
 * A workbook file, opened to be changed: one process at a time has it. With a keeper it is a copy: where something cannot be kept,
 * it is over with it, since what is kept may be another by then.
 *
 * @throws BookFileFault as `BookFile.open`
 */
export function heldFile(path: string, options: Pick<OpenOptions, 'waitMs' | 'keeper'> = {}): HeldBook {
  const file = BookFile.open(path, { ...options, writes: true })
  return {
    view: file.book,
    reader: (reader) => file.reader(reader),
    stage: () => file.stage(),
    commit: () => file.commit(),
    reopened: () => {
      file.abandon()
      if (options.keeper !== undefined) throw new SessionFault({ code: 'closed', message: 'The workbook is opened anew.' })
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
    abandon: () => file.abandon(),
  }
}
