import { operationsPhrase } from '@mellow-abacus/host'
import { counted } from 'mellow-abacus'
import { lookAt, report, stamp, withBook } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint } from '../../shell/index.js'

/** Runs `mellow history`. */
export function runHistory(book: string, args: ChangeArguments & { readonly limit?: string }, io: Io): Promise<number> {
  const limit = args.limit === undefined ? Number.POSITIVE_INFINITY : wholeNumber('--limit', args.limit, 1)
  return lookAt(book, args, io, (file) => {
    const paint = makePaint(io.colours)
    const entries = [...file.journal()]
    for (const { revision, kind, at, author, operations, recalculated } of entries.slice(Math.max(0, entries.length - limit))) {
      const cells = recalculated.reduce((sum, { rows }) => sum + rows, 0)
      const what = `${kind === 'apply' ? '' : `${kind}: `}${operationsPhrase(operations)}`
      const followed = cells === 0 ? '' : paint.quiet(`, ${counted(cells, 'cell')} recalculated`)
      io.show(`${paint.strong(String(revision).padStart(4))}  ${paint.quiet(`${at}  ${author}`)}  ${what}${followed}\n`)
    }
    if (entries.length === 0) io.show('No steps yet.\n')
    return undefined
  })
}

/** Runs `mellow undo` and `mellow redo`. */
export function runTurn(
  verb: 'undo' | 'redo',
  book: string,
  text: string | undefined,
  args: ChangeArguments,
  io: Io,
): Promise<number> {
  const steps = text === undefined ? 1 : wholeNumber('<n>', text, 1)
  // Without writing the file, what is turned stays in memory and goes with it.
  const isPreview = args.preview === true
  return withBook(book, !isPreview, args, io, async (file) => {
    const draft = isPreview ? file.draft() : null
    const seen = draft?.view ?? file.book
    for (let done = 0; done < steps; done++) {
      const change = draft === null ? await file[verb](stamp(file.book, args)) : draft[verb]()
      if (change === null) {
        io.err(done === 0 ? `There is nothing to ${verb}.\n` : `There were only ${counted(done, 'step')} to ${verb}.\n`)
        return done === 0 ? ExitCode.refused : ExitCode.done
      }
      report(seen, change, args, io, verb)
    }
    if (isPreview) io.err('Nothing was changed: this is a preview.\n')
    return ExitCode.done
  })
}
