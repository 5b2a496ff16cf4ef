import { statSync } from 'node:fs'
import { type KeptToken, TokenFault, TokenFile } from '@mellow-abacus/server'
import { counted, hasRole, type Role } from 'mellow-abacus'
import { CommandRefusal, ExitCode, type Io, shellWord, UsageFault } from '../../shell/index.js'

/** What `mellow token` is told. */
export interface TokenArguments {
  readonly name?: string
  readonly book?: readonly string[]
  readonly role?: Role
  readonly group?: readonly string[]
  readonly until?: string
  readonly operator?: boolean
}

/** Runs `mellow token`. */
export function runToken(folder: string, action: string, which: string | undefined, args: TokenArguments, io: Io): number {
  if (statSync(folder, { throwIfNoEntry: false })?.isDirectory() !== true) throw new UsageFault(`there is no folder ${folder}.`)
  const tokens = new TokenFile(folder)
  try {
    if (action === 'add') addToken(tokens, args, io)
    else if (action === 'list') listTokens(tokens, folder, io)
    else withdrawToken(tokens, which, io)
  } catch (error) {
    if (error instanceof TokenFault) throw new UsageFault(error.message)
    throw error
  }
  return ExitCode.done
}

function addToken(tokens: TokenFile, { name, book, role, group, until, operator }: TokenArguments, io: Io): void {
  if (name === undefined) throw new UsageFault('whose token is it? Say it: --name …')
  const isForBooks = book !== undefined && role !== undefined
  if (!isForBooks && operator !== true) throw new UsageFault('a token is for a workbook, with a role: --book … --role …')
  const { token, kept } = tokens.add({
    name,
    books: book ?? [],
    role: role ?? 'read',
    ...(group !== undefined && { groups: group }),
    ...(operator !== undefined && { operator }),
    ...(until !== undefined && { until }),
  })
  if (group !== undefined && hasRole(kept.role, 'define'))
    io.err(`Nothing is hidden from the role ${kept.role}, whatever its groups.\n`)
  io.err(`${describe(kept)}\nKept as a hash: this is the only time that it is shown.\n`)
  void io.out(`${token}\n`)
}

function listTokens(tokens: TokenFile, folder: string, io: Io): void {
  const all = tokens.list()
  for (const one of all) io.show(`${one.id}  ${describe(one)}\n`)
  if (all.length === 0)
    io.err(`There is no token. To make one: mellow token ${shellWord(folder)} add --name … --book … --role …\n`)
}

function withdrawToken(tokens: TokenFile, which: string | undefined, io: Io): void {
  if (which === undefined) throw new UsageFault('which token? Say its id or name, as mellow token … list has them.')
  const withdrawn = tokens.withdraw(which)
  if (withdrawn.length === 0) throw new CommandRefusal(`there is no token ${which}.`)
  io.err(`${counted(withdrawn.length, 'token')} withdrawn: ${withdrawn.map(({ id, name }) => `${name} (${id})`).join(', ')}\n`)
}

function describe({ name, books, role, groups, operator, until }: KeptToken): string {
  const parts = [
    books.length === 0 ? [] : [`${role} at ${books.map((book) => (book === '*' ? 'all workbooks' : book)).join(', ')}`],
    groups.length === 0 ? [] : [`in ${groups.join(', ')}`],
    operator ? ['operator'] : [],
    until === null ? [] : [`until ${until}`],
  ].flat()
  return `${name}: ${parts.join('; ')}`
}
