import { operationsPhrase } from '@mellow-abacus/host'
import { derivationText, explanationText, type ShownValue, traceMermaid, traceText, Workbook } from 'mellow-abacus'
import { type BookAtHand, lookAt, rowOf, shownText } from '../../books/index.js'
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
  const between = args.between === undefined ? undefined : revisionsOf(args.between)
  if (args.to !== undefined && between === undefined) throw new UsageFault('--to goes with --between.')
  return lookAt(book, args, io, (file) => {
    const { kind, table } = file.book.addressed(address)
    if (kind === 'column' && row === undefined) throw new UsageFault(`say which row: mellow why ${book} ${address} 1`)
    const id = kind === 'column' ? rowOf(file.book.table(table), row as string) : undefined
    if (between !== undefined) {
      if (between[1] > file.book.revision)
        throw new UsageFault(`${book} is at revision ${file.book.revision}; --between goes no further.`)
      const moved = movedBetween(file, address, id, between)
      if (args.to === 'json') io.out(`${JSON.stringify({ address, row: id ?? null, between, ...moved }, null, 2)}\n`)
      else io.show(movedText(address, between, moved))
    } else if (args.since === undefined) io.show(`${derivationText(file.book.why(address, id))}\n`)
    else io.show(movesText(file, address, id, wholeNumber('--since', args.since, 0)))
    return undefined
  })
}

/** The steps after a revision that moved a value, with what it was before and after; the history is gone through anew. */
function movesText(file: BookAtHand, address: string, row: number | undefined, since: number): string {
  const past = new Workbook({ ...file.book.surroundings, undoLimit: Number.POSITIVE_INFINITY })
  const valueNow = (): ShownValue | undefined => {
    try {
      const { kind, table, name } = past.addressed(address)
      if (kind === 'value') return past.value(name)
      return kind === 'tally'
        ? past.table(table).tally(name)
        : past
            .table(table)
            .column(name)
            .value(row as number)
    } catch {
      // What is asked for was not there yet.
      return undefined
    }
  }
  let text = ''
  let before: ShownValue | undefined
  for (const { revision, kind, of = null, operations, at, author } of file.journal()) {
    if (kind === 'apply') past.apply(operations)
    else past.turnStep(kind, of)
    const after = valueNow()
    if (revision > since && shownText(after) !== shownText(before))
      text += `revision ${revision}  ${at}  ${author}  ${kind === 'apply' ? operationsPhrase(operations) : kind}\n  ${shownText(before)} → ${shownText(after)}\n`
    before = after
  }
  return text === '' ? `Nothing since revision ${since} has moved it; it is ${shownText(before)}.\n` : text
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
