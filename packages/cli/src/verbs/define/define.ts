import { isSameName, type Operation, parseLink, type Refusal, VALUE_TYPES, type WorkbookView } from 'mellow-abacus'
import { change } from '../../books/index.js'
import type { ChangeArguments } from '../../options/index.js'
import { findingText } from '../../output/index.js'
import {
  columnOf,
  type DefinitionFault,
  definitionsFrom,
  functionOf,
  type GivenDefinition,
  givenDefinitions,
  optionDefinitions,
} from '../../reading/index.js'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, UsageFault } from '../../shell/index.js'

/** What `rule` is told besides its definition. */
export interface RuleArguments extends ChangeArguments {
  readonly severity?: 'warning' | 'hint'
  readonly note?: string
  readonly blankIsWrong?: boolean
}

/** What `mellow define` is told. */
export interface DefineArguments extends ChangeArguments {
  readonly formulas: readonly string[]
  readonly before?: string
  readonly after?: string
  readonly type?: string
}

/** Runs `mellow define`. */
export async function runDefine(
  book: string,
  name: string,
  texts: readonly string[],
  args: DefineArguments,
  io: Io,
): Promise<number> {
  const isAsked = texts.length + args.formulas.length > 0
  const given = isAsked ? givenDefinitions(args.formulas, texts) : definitionsFrom('standard input', await linesOf(io))
  if (given.faults.length > 0) return tellFaults(given.faults, io)
  return change(book, args, io, (workbook) => [...given.functions, ...definitions(workbook, name, given.definitions, args)])
}

async function linesOf(io: Io): Promise<string[]> {
  const chunks: Uint8Array[] = []
  for await (const chunk of io.input) chunks.push(chunk)
  const { splitDefinitions } = await import('mellow-abacus')
  return splitDefinitions(Buffer.concat(chunks).toString('utf8')).map(({ text }) => text)
}

function tellFaults(faults: readonly DefinitionFault[], io: Io): number {
  for (const { finding, where, text } of faults) io.err(findingText(finding, where, text, makePaint(io.colours)))
  return ExitCode.refused
}

function definitions(book: WorkbookView, name: string, given: readonly GivenDefinition[], args: DefineArguments): Operation[] {
  const table = book.table(name)
  const type = args.type === undefined ? undefined : VALUE_TYPES.find((one) => one === args.type)
  if (args.type !== undefined && type === undefined)
    throw new UsageFault(`there is no type ${args.type}; there are ${VALUE_TYPES.join(', ')}.`)
  const before = placeBefore(book, name, args)
  return given.flatMap((one): Operation[] => {
    const known = table.columns.find((column) => isSameName(column.name, one.name))
    const set = { formula: one.formula, ...(type !== undefined && { type }) }
    if (known === undefined) return [{ op: 'add-column', table: table.name, column: { name: one.name, ...set }, ...before }]
    const moved =
      before.before === undefined && args.after === undefined
        ? []
        : [{ op: 'move-column' as const, table: table.name, column: known.name, ...before }]
    return [{ op: 'change-column', table: table.name, column: known.name, set }, ...moved]
  })
}

/** `--before` or `--after` as the column to stand before; nothing is the end. */
function placeBefore(
  book: WorkbookView,
  name: string,
  { before, after }: { before?: string; after?: string },
): { before?: string } {
  if (before !== undefined && after !== undefined) throw new UsageFault('give --before or --after, not both.')
  const table = book.table(name)
  if (before !== undefined) return { before: table.column(before).name }
  if (after === undefined) return {}
  const names = table.columns.map((column) => column.name)
  const next = names[names.indexOf(table.column(after).name) + 1]
  return next === undefined ? {} : { before: next }
}

/** Runs `mellow column`. The word `add` before the columns, as it was typed before, is understood. */
export function runColumn(book: string, words: readonly string[], args: ChangeArguments, io: Io): Promise<number> {
  const addresses = words[0] === 'add' && words.length > 1 ? words.slice(1) : words
  return change(book, args, io, (workbook) =>
    addresses.map((address) => {
      const table = [...workbook.tables].sort((a, b) => b.length - a.length).find((one) => address.startsWith(`${one}.`))
      if (table === undefined)
        throw new UsageFault(`expected table.column, such as hives.note; there are the tables ${workbook.tables.join(', ')}.`)
      return { op: 'add-column', table, column: columnOf(address.slice(table.length + 1)) }
    }),
  )
}

/** Runs `mellow move`. */
export function runMove(
  book: string,
  address: string,
  args: ChangeArguments & { before?: string; after?: string },
  io: Io,
): Promise<number> {
  if (args.before === undefined && args.after === undefined) throw new UsageFault('say where: --before or --after a column.')
  return change(book, args, io, (workbook) => {
    const { table, name } = workbook.addressed(address)
    return [{ op: 'move-column', table, column: name, ...placeBefore(workbook, table, args) }]
  })
}

/** A definition of the command line. */
function definitionOf(text: string): { name: string; formula: string } | DefinitionFault[] {
  const { definitions: found, faults } = optionDefinitions('definition', [text])
  return found[0] ?? faults
}

/** Runs `mellow value`. */
export async function runValue(book: string, text: string, args: ChangeArguments, io: Io): Promise<number> {
  const given = definitionOf(text)
  if (Array.isArray(given)) return tellFaults(given, io)
  return change(book, args, io, () => [{ op: 'set-value', name: given.name, formula: given.formula }])
}

/** Runs `mellow function`. */
export async function runFunction(
  book: string,
  text: string,
  args: ChangeArguments & { readonly note?: string },
  io: Io,
): Promise<number> {
  const given = functionOf(text, 'definition')
  if (Array.isArray(given)) return tellFaults(given, io)
  const { note } = args
  return change(book, args, io, (workbook) => {
    // Set anew without a note, it keeps the one it has.
    const known = workbook.functions.find(({ name }) => isSameName(name, given.name))?.note ?? undefined
    const said = note ?? known
    return [{ ...given, ...(said !== undefined && said !== '' && { note: said }) }]
  })
}

/** Runs `mellow tally`. */
export async function runTally(book: string, table: string, text: string, args: ChangeArguments, io: Io): Promise<number> {
  const given = definitionOf(text)
  if (Array.isArray(given)) return tellFaults(given, io)
  return change(book, args, io, () => [{ op: 'set-tally', table, name: given.name, formula: given.formula }])
}

/** Runs `mellow rule`. */
export function runRule(book: string, table: string, text: string, args: RuleArguments, io: Io): Promise<number> {
  const parts = /^\s*(?:`((?:[^`]|``)+)`|([^:`]+?))\s*:\s*(\S.*)$/s.exec(text)
  if (parts === null)
    throw new UsageFault(`expected 'name: condition', such as 'moist: moisture <= 25', not ${JSON.stringify(text)}.`)
  const { severity, note, blankIsWrong } = args
  const name = parts[1]?.replaceAll('``', '`') ?? (parts[2] as string)
  const details = { ...(severity && { severity }), ...(note !== undefined && { note }), ...(blankIsWrong && { blankIsWrong }) }
  return change(book, args, io, () => [{ op: 'set-rule', table, name, condition: parts[3] as string, ...details }])
}

/** Runs `mellow link`. */
export async function runLink(book: string, text: string, args: ChangeArguments & { as?: string }, io: Io): Promise<number> {
  const parsed = parseLink(text)
  if ('findings' in parsed)
    return tellFaults(
      parsed.findings.map((finding: Refusal['findings'][number]) => ({ finding, where: 'link', text })),
      io,
    )
  const { table, ...link } = parsed
  if (table === undefined) throw new UsageFault("say which table the link begins in: 'hives.yard -> apiaries.code'.")
  return change(book, args, io, () => [{ op: 'add-link', table, ...link, ...(args.as !== undefined && { name: args.as }) }])
}
