import type { Operation, WorkbookView } from 'mellow-abacus'
import { counted, isSameName, printName, splitNames } from 'mellow-abacus'
import { change } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { wholeNumber } from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { UsageFault } from '../../shell/index.js'

/** What `stamp` is told. */
export interface StampArguments extends ChangeArguments {
  readonly when: string
  readonly on?: 'first-fill' | 'each-change'
  readonly content?: 'time' | 'author'
}

interface LifeArguments extends ChangeArguments {
  readonly discard?: string
  readonly from?: readonly string[]
  readonly withDependants?: boolean
  readonly detachDependants?: boolean
}

/** Runs a verb that does one thing to what an address names. */
export function runLife(verb: string, book: string, address: string, args: LifeArguments, io: Io): Promise<number> {
  return change(book, args, io, (workbook) => {
    if (verb === 'remove') return removal(workbook, address, args)
    const { kind, table, name: column } = workbook.addressed(address)
    if (kind !== 'column') throw new UsageFault(`only a column can be ${PARTICIPLES[verb]}, and ${address} is a ${kind}.`)
    if (verb === 'hide' || verb === 'unhide') {
      const set = hiding(workbook, { table, column }, verb === 'hide', args, io)
      return [{ op: 'change-column', table, column, set }]
    }
    if (verb === 'pause') return [{ op: 'pause-column', table, column }]
    if (verb === 'detach') return [{ op: 'detach-column', table, column }]
    const discard = args.discard === undefined ? {} : { discard: wholeNumber('--discard', args.discard, 0) }
    const typed = workbook.table(table).column(column).typedIds().length
    const operation: Operation = { op: 'resume-column', table, column, ...discard }
    if (args.findings !== 'json') {
      const changed = resumedCells(workbook, table, column, typed)
      io.err(`${counted(changed, 'cell')} of ${address} would change, ${typed} of them typed by hand.\n`)
    }
    return [operation]
  })
}

/** What hiding a column, or showing it again, sets: for all who look, or for groups of readers. */
function hiding(
  book: WorkbookView,
  { table, column }: { readonly table: string; readonly column: string },
  isHidden: boolean,
  { from, findings }: LifeArguments,
  io: Io,
): Extract<Operation, { readonly op: 'change-column' }>['set'] {
  const { hiddenFrom = [] } = book.table(table).column(column).properties
  if (from === undefined)
    return isHidden ? { hidden: true } : { hidden: null, ...(hiddenFrom.length > 0 && { hiddenFrom: null }) }
  const named = (group: string): boolean => from.some((one) => isSameName(one, group))
  const others = hiddenFrom.filter((group) => !named(group))
  if (!isHidden) return { hiddenFrom: others.length === 0 ? null : others }
  const known = book.readerGroups
  const fresh = from.filter((group) => !known.some((one) => isSameName(one, group)))
  // A group that is misspelt would hide nothing from anyone.
  if (fresh.length > 0 && known.length > 0 && findings !== 'json')
    io.err(`${fresh.map(printName).join(', ')} is a new group; the groups so far are ${known.map(printName).join(', ')}.\n`)
  return { hiddenFrom: [...others, ...from] }
}

/** How many cells of a paused column another value stands in once it calculates again. */
function resumedCells(book: WorkbookView, table: string, column: string, discard: number): number {
  const { change: resumed } = book.preview([{ op: 'resume-column', table, column, discard }])
  return resumed.changed.find((one) => one.table === table && one.column === column)?.rows ?? 0
}

const PARTICIPLES: Readonly<Record<string, string>> = {
  pause: 'paused',
  resume: 'resumed',
  detach: 'detached',
  hide: 'hidden',
  unhide: 'shown again',
}

function removal(book: WorkbookView, address: string, args: LifeArguments): Operation[] {
  const dependants = args.withDependants === true ? 'remove' : args.detachDependants === true ? 'detach' : undefined
  if (book.tables.includes(address)) return [{ op: 'remove-table', table: address }]
  const link = /^link:(.+)\.([^.]+)$/.exec(address)
  if (link !== null) return [{ op: 'remove-link', table: link[1] as string, name: link[2] as string }]
  const own = functionAt(address)
  if (own !== null) return [{ op: 'remove-function', name: own }]
  const [, kept, view = ''] = /^(report|chart):`?(.+?)`?$/.exec(address) ?? []
  if (kept === 'report' || kept === 'chart') return [{ op: `remove-${kept}`, name: view }]
  const { kind, table, name } = book.addressed(address)
  if (kind === 'value') return [{ op: 'remove-value', name }]
  if (kind === 'tally' || kind === 'rule') return [{ op: `remove-${kind}`, table, name }]
  return [{ op: 'remove-column', table, column: name, ...(dependants !== undefined && { dependants }) }]
}

/** The function that an address names: `function:per_hundred`; null for any other address. */
function functionAt(address: string): string | null {
  return /^function:(.+)$/.exec(address)?.[1] ?? null
}

/** Runs `mellow stamp`. */
export function runStamp(book: string, address: string, args: StampArguments, io: Io): Promise<number> {
  return change(book, args, io, (workbook) => {
    const table = [...workbook.tables].sort((a, b) => b.length - a.length).find((one) => address.startsWith(`${one}.`))
    if (table === undefined)
      throw new UsageFault(
        `expected table.column, such as inspections.seen_at; there are the tables ${workbook.tables.join(', ')}.`,
      )
    const name = address.slice(table.length + 1)
    const { on = 'first-fill', content = 'time' } = args
    const type = content === 'author' ? 'text' : 'datetime'
    return [
      { op: 'add-column', table, column: { name, type } },
      { op: 'set-stamp', table, column: name, stamp: { when: splitNames(args.when), on, content } },
    ]
  })
}

/** Runs `mellow rename`. */
export function runRename(
  book: string,
  address: string,
  to: string,
  name: string,
  args: ChangeArguments,
  io: Io,
): Promise<number> {
  if (to !== 'to') throw new UsageFault(`mellow rename <book> <address> to <name>, not ${JSON.stringify(to)}.`)
  return change(book, args, io, (workbook) => {
    if (workbook.tables.includes(address)) return [{ op: 'rename-table', table: address, to: name }]
    const own = functionAt(address)
    if (own !== null) return [{ op: 'rename-function', name: own, to: name }]
    const { kind, table, name: column } = workbook.addressed(address)
    if (kind !== 'column') throw new UsageFault(`a ${kind} keeps its name; make another and remove this one.`)
    return [{ op: 'rename-column', table, column, to: name }]
  })
}

/** Runs `mellow mode`. */
export function runMode(book: string, mode: string, args: ChangeArguments, io: Io): Promise<number> {
  if (mode !== 'live' && mode !== 'on-demand')
    throw new UsageFault(`the modes are live and on-demand, not ${JSON.stringify(mode)}.`)
  return change(book, args, io, () => [{ op: 'set-mode', mode }])
}

/** Runs `mellow recalculate`. */
export function runRecalculate(book: string, columns: readonly string[], args: ChangeArguments, io: Io): Promise<number> {
  return change(book, args, io, () => [{ op: 'recalculate', ...(columns.length > 0 && { columns }) }])
}

/** Runs `mellow tick`. */
export function runTick(
  book: string,
  args: ChangeArguments & { readonly now?: string; readonly seed?: string },
  io: Io,
): Promise<number> {
  const seed = args.seed === undefined ? {} : { seed: wholeNumber('--seed', args.seed, 0) }
  return change(book, args, io, () => [{ op: 'tick', ...(args.now !== undefined && { now: args.now }), ...seed }])
}
