import type { GroupedView, Operation } from 'mellow-abacus'
import { change, tableOf } from '../../books/index.js'
import type { GivenView } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import type { ShowArguments } from './rows-arguments.js'

/** Keeps the view that `mellow show` was asked for as a report. */
export function keepReport(
  book: string,
  table: string | undefined,
  view: GivenView['view'],
  { keep = '', limit, ...args }: Omit<ShowArguments, 'limit'> & { readonly limit: number | undefined },
  io: Io,
): Promise<number> {
  // Results stand alone on standard output.
  return change(book, args, { ...io, show: (text) => io.err(text) }, (workbook) => {
    const report = { table: tableOf(workbook, table).name, ...view, ...(limit !== undefined && { limit }) }
    const operation: Operation = { op: 'set-report', name: keep, report: withoutEmpty(report) }
    return [operation]
  })
}

/** A view without the lists that hold nothing: a report is to be read. */
function withoutEmpty(view: GroupedView): GroupedView {
  const said = Object.entries(view).filter(([, value]) => !(Array.isArray(value) && value.length === 0))
  return Object.fromEntries(said) as unknown as GroupedView
}
