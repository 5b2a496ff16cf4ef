import { isSameName, printName, type WorkbookView } from 'mellow-abacus'
import { lookAt } from '../../books/index.js'
import { writeResult } from '../../output/index.js'
import type { Io } from '../../shell/index.js'
import { recordRows } from './records.js'
import type { RowsArguments } from './rows-arguments.js'

const COLUMNS = ['group', 'hidden'].map((name) => ({ name, type: 'text' }))

/** Runs `mellow groups`: who the columns are hidden from. */
export function runGroups(book: string, args: RowsArguments, io: Io): Promise<number> {
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const groups = workbook.readerGroups
    if (groups.length === 0 && args.findings !== 'json')
      io.err(`No column is hidden from a group of readers. To hide one: mellow hide ${book} <table.column> --from <group>\n`)
    const listed = groups.map((group) => ({ group, hidden: hiddenFrom(workbook, group).join(', ') }))
    await writeResult(recordRows(COLUMNS, listed), args, io)
    return undefined
  })
}

/** Addresses of the columns that are hidden from a group. */
function hiddenFrom(book: WorkbookView, group: string): string[] {
  return book.tables.flatMap((table) =>
    book
      .table(table)
      .columns.filter(({ properties }) => properties.hiddenFrom?.some((one) => isSameName(one, group)) === true)
      .map(({ name }) => `${printName(table)}.${printName(name)}`),
  )
}
