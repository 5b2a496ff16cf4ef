import type { WritableFormat } from '@mellow-abacus/files'
import { counted, type TableView, type WorkbookView } from 'mellow-abacus'
import type { ChangeArguments, ViewArguments } from '../../options/index.js'
import type { Io } from '../../shell/index.js'

/** What verbs are told that print rows. */
export interface RowsArguments {
  readonly where?: string
  readonly order: readonly string[]
  readonly columns?: string
  readonly limit?: string
  readonly exact?: boolean
  readonly rowNumbers?: boolean
  /** A level of groups, or how many levels of an outline stand below the outermost rows. */
  readonly fold?: string
  readonly output?: string
  readonly to?: WritableFormat | 'table'
  readonly neutralize?: boolean
  readonly strict?: boolean
  readonly findings?: 'json'
  readonly color: boolean
}

/** What `mellow show` is told. */
export type ShowArguments = RowsArguments &
  ViewArguments &
  Omit<ChangeArguments, keyof RowsArguments> & { readonly keep?: string }

/** Says how much of what was shown is out of step with its sources. */
export function tellStale(
  workbook: WorkbookView,
  table: TableView,
  book: string,
  args: Pick<RowsArguments, 'findings'>,
  io: Io,
): undefined {
  const stale = table.columns.reduce((sum, column) => sum + column.stale, 0)
  if (workbook.mode === 'on-demand' && stale > 0 && args.findings !== 'json')
    io.err(`${counted(stale, 'cell')} ${stale === 1 ? 'is' : 'are'} stale: mellow recalculate ${book}\n`)
}
