import { derivationText, explanationText, splitNames, traceMermaid, traceText } from 'mellow-abacus'
import { lookAt, rowOf } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { UsageFault } from '../../shell/index.js'
import { movedBetween, movedText } from './moved.js'

/** What `mellow why` is told. */
export interface WhyArguments extends ChangeArguments {
  readonly since?: string
  readonly between?: readonly string[]
  readonly to?: 'json'
}

/** The two revisions that something is asked between, the earlier one first. */
function revisionsOf(given: readonly string[]): readonly [number, number] {
  const [from, to, ...others] = given.map((text) => wholeNumber('--between', text, 0))
  if (from === undefined || to === undefined || others.length > 0 || from >= to)
    throw new UsageFault('--between takes two revisions, the earlier one first: --between 40 46')
  return [from, to]
}

/** Runs `mellow why`. */
export function runWhy(book: string, address: string, row: string | undefined, args: WhyArguments, io: Io): Promise<number> {
  if (args.since !== undefined && args.between !== undefined) throw new UsageFault('give --since or --between, not both.')
  const asked =
    args.since === undefined ? args.between && revisionsOf(args.between) : ([wholeNumber('--since', args.since, 0)] as const)
  if (args.to !== undefined && asked === undefined) throw new UsageFault('--to goes with --since and --between.')
  return lookAt(book, args, io, (file) => {
    const of = reportOf(address)
    if (of !== null && asked === undefined)
      throw new UsageFault('of a report it tells what moved a figure: --since or --between.')
    const { kind, table } = of === null ? file.book.addressed(address) : { kind: 'report', table: '' }
    if (kind === 'column' && row === undefined) throw new UsageFault(`say which row: mellow why ${book} ${address} 1`)
    const id = kind === 'column' ? rowOf(file.book.table(table), row as string) : undefined
    const keys = of === null ? undefined : keysOf(row)
    if (asked !== undefined) {
      const { revision } = file.book
      const between = [asked[0], asked[1] ?? revision] as const
      if (Math.max(...between) > revision)
        throw new UsageFault(`${book} is at revision ${revision}, which is the last one there is.`)
      const moved = movedBetween(file, address, keys ?? id, between)
      if (args.to === 'json')
        io.out(
          `${JSON.stringify({ address, row: id ?? null, ...(keys !== undefined && { keys }), between, ...moved }, null, 2)}\n`,
        )
      else
        io.show(movedText(keys === undefined || keys.length === 0 ? address : `${address} of ${keys.join(', ')}`, between, moved))
    } else io.show(`${derivationText(file.book.why(address, id))}\n`)
    return undefined
  })
}

/** The report that an address names; null for any other address. */
function reportOf(address: string): string | null {
  return address.startsWith('report:') ? address : null
}

/** The keys of a group of a report, the outermost first: `Heron Reach, 2026`, or with the names of their levels. */
function keysOf(text = ''): string[] {
  return splitNames(text).map((part) => /^[^=]+=\s*(.*)$/.exec(part)?.[1] ?? part)
}

/** Runs `mellow trace`. */
export function runTrace(
  book: string,
  address: string,
  args: ChangeArguments & { readonly to?: string },
  io: Io,
): Promise<number> {
  return lookAt(book, args, io, (file) => {
    const traced = file.book.trace(address)
    if (args.to === 'json') io.out(`${JSON.stringify(traced, null, 2)}\n`)
    else io.show(`${(args.to === 'mermaid' ? traceMermaid(traced) : traceText(traced)).trimEnd()}\n`)
    return undefined
  })
}

/** Runs `mellow explain <book> <address>`. */
export function runExplainColumn(
  book: string,
  address: string,
  args: Pick<ChangeArguments, 'findings' | 'color'>,
  io: Io,
): Promise<number> {
  return lookAt(book, args, io, (file) => {
    const { kind, table, name } = file.book.addressed(address)
    if (kind !== 'column') throw new UsageFault(`explain takes a column, and ${address} is a ${kind}: mellow explain 'formula'`)
    const { formula } = file.book.table(table).column(name)
    if (formula === null) throw new UsageFault(`${address} is a source column: its values were read or typed.`)
    io.show(`${explanationText(file.book.explain(table, name))}\n`)
    return undefined
  })
}
