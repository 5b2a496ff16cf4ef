import { change, isUrl, makeBook } from '../../books/index.js'
import type { ChangeArguments, SurroundingArguments } from '../../options/index.js'
import { columnOf, surroundings, wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode } from '../../shell/index.js'
import { type CalendarArguments, runCalendar } from './calendar.js'

/** Runs `mellow new`. */
export async function runNew(book: string, args: SurroundingArguments, io: Io): Promise<number> {
  const name = isUrl(book) || book.endsWith('.mellow') ? book : `${book}.mellow`
  const exitCode = await makeBook(name, surroundings(args), [], { color: io.colours }, io)
  if (exitCode === ExitCode.done) io.show(`${name} made. Next: mellow import ${book} <file>\n`)
  return exitCode
}

/** Runs `mellow table`. The word `add` before the table, as it was typed before, is understood. */
export function runTable(
  book: string,
  words: readonly string[],
  args: ChangeArguments & CalendarArguments & { readonly rows?: string },
  io: Io,
): Promise<number> {
  const [table = '', ...columns] = words[0] === 'add' && words.length > 1 ? words.slice(1) : words
  if (args.calendar !== undefined) return runCalendar(book, table, columns, args, io)
  const rows = args.rows === undefined ? 0 : wholeNumber('--rows', args.rows, 0)
  return change(book, args, io, () => [
    { op: 'add-table', table, columns: columns.map(columnOf) },
    ...(rows > 0 ? [{ op: 'insert-rows' as const, table, rows: Array.from({ length: rows }, () => ({})) }] : []),
  ])
}
