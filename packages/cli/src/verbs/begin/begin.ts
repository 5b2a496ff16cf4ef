import { BookFile, BookFileFault } from '@mellow-abacus/files'
import { VALUE_TYPES, type ValueType } from 'mellow-abacus'
import { bookPath, type ChangeArguments, change, refuseFile } from '../../books/index.js'
import type { SurroundingArguments } from '../../options/declared-options.js'
import { surroundings, wholeNumber } from '../../options/reading-options.js'
import type { Io } from '../../terminal/io.js'
import { ExitCode, UsageFault } from '../../terminal/usage.js'
import { type CalendarArguments, runCalendar } from './calendar.js'

/** Runs `mellow new`. */
export function runNew(book: string, args: SurroundingArguments, io: Io): number {
  try {
    const path = bookPath(book.endsWith('.mellow') ? book : `${book}.mellow`)
    BookFile.create(path, surroundings(args)).close()
    io.show(`${path} made. Next: mellow import ${book} <file>\n`)
    return ExitCode.done
  } catch (error) {
    if (error instanceof BookFileFault) return refuseFile(error, io)
    throw error
  }
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

/** `name` or `name:type`. Errors: UsageFault. */
export function columnOf(text: string): { name: string; type?: ValueType } {
  const match = /^(.+):([a-z]+)$/.exec(text)
  if (match === null) return { name: text }
  const type = VALUE_TYPES.find((one) => one === match[2])
  if (type === undefined) throw new UsageFault(`there is no type ${match[2]}; there are ${VALUE_TYPES.join(', ')}.`)
  return { name: match[1] as string, type }
}
