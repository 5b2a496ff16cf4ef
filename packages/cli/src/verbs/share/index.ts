/**
 * Verbs that share the workbooks of a folder: the server, its tokens, and copies.
 * @module
 */
import { Argument, Command, Option } from 'commander'
import { ROLES } from 'mellow-abacus'
import type { VerbTools } from '../verb.js'
import type { DeskArguments } from './desk.js'
import type { McpArguments } from './mcp.js'
import type { ServeArguments } from './serve.js'
import type { TokenArguments } from './token.js'

const several = (one: string, all: readonly string[] = []): string[] => [...all, one]

/** The verb `serve`: workbooks over HTTP. */
export function serveCommand({ io, finish }: VerbTools): Command {
  const command = new Command('serve')
    .description(
      'Serves the workbooks of a folder, or of a store, over HTTP, with a live feed, until it is ended. Only this machine can ask, unless --host says otherwise.',
    )
    .argument('[folder]', 'the workbooks and the tokens; with --store the tokens alone')
    .option('--port <n>', 'the port, 4747 unless given; 0 for one that is free')
    .option('--host <address>', 'the address to listen at, 127.0.0.1 unless given')
    .option('--open <n>', 'workbooks open at once, 16 unless given')
    .option('--idle <time>', 'close a workbook that nobody uses after so long, such as 30s, 10m or 1h')
    .option('--issuer <url>', 'take tokens of this issuer (OpenID Connect)')
    .option('--audience <name>', 'the audience that such tokens are made for')
    .option('--origin <origin>', 'a page that may ask from a browser; may be repeated', several)
    .option('--proxied', 'behind a proxy, which says where requests come from')
    .option(
      '--store <address>',
      'keep the workbooks in this database of PostgreSQL, for several servers to share. User and password come from PGUSER and PGPASSWORD or from ~/.pgpass',
    )
    .option('--reached-at <url>', 'with --store: where the other servers ask this one')
    .option('--config <file>', 'options as JSON; those given here go before them')
    .addOption(new Option('--log <level>', 'how much is logged').choices(['silent', 'error', 'warn', 'info', 'debug']))
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow serve books\n  mellow serve books --host 0.0.0.0 --port 8080 --proxied\n  mellow serve books --store postgresql://db.example/bees --reached-at http://10.0.0.5:4747\n',
  )
  return command.action(async (folder: string | undefined, args: ServeArguments) => {
    finish(await (await import('./serve.js')).runServe(folder, args, io))
  })
}

/** The verb `desk`: a workbook on the page. */
export function deskCommand({ io, finish }: VerbTools): Command {
  const command = new Command('desk')
    .description(
      'Opens a workbook, or the page alone, in the browser. The first line of the output is the address, which is good once. Verbs of the terminal that change the workbook meanwhile go through the page: both see every edit.',
    )
    .argument('[book]')
    .option('--port <n>', 'the port; one that is free unless given')
    .option('--no-open', 'tell the address only')
  command.addHelpText('after', '\nExamples:\n  mellow desk honey\n  mellow desk honey --no-open --port 4173\n')
  return command.action(async (book: string | undefined, args: DeskArguments) => {
    finish(await (await import('./desk.js')).runDesk(book, args, io))
  })
}

/** The verb `mcp`: a workbook for assistant programs. */
export function mcpCommand({ io, finish }: VerbTools): Command {
  const command = new Command('mcp')
    .description(
      'Lets an assistant program in to a workbook, in a file or at a server, by the Model Context Protocol. It looks, explains and previews; it changes only what is allowed, after a preview, each time as one step that can be undone and is signed with its name. Verbs of the terminal and the page go on working meanwhile.',
    )
    .argument('<book>')
    .option(
      '--allow <what>',
      'what it may change: define (columns and what else is defined), edit (cells and rows), or both with a comma',
    )
    .option(
      '--http',
      'talk over HTTP on this machine, at the address that is printed; over standard input and output unless given',
    )
    .option('--port <n>', 'the port for --http; one that is free unless given')
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow mcp honey\n  mellow mcp honey --allow define,edit\n  mellow mcp honey --http --port 4750\n  MELLOW_TOKEN=… mellow mcp https://bees.example/books/honey\n',
  )
  return command.action(async (book: string, args: McpArguments) => {
    finish(await (await import('./mcp.js')).runMcp(book, command.parent?.version() ?? '', args, io))
  })
}

/** The verb `token`: who may come in. */
export function tokenCommand({ io, finish }: VerbTools): Command {
  const command = new Command('token')
    .description('Makes, lists and withdraws tokens for the workbooks of a folder. A token is shown once, when it is made.')
    .argument('<folder>')
    .addArgument(new Argument('<action>', 'what to do').choices(['add', 'list', 'withdraw']))
    .argument('[which]', 'withdraw: the id or name of the token')
    .option('--name <name>', 'add: whose it is; the author of what is done with it')
    .option('--book <book>', "add: a workbook it is for, or '*' for all; may be repeated", several)
    .addOption(new Option('--role <role>', 'add: what it may do there').choices([...ROLES]))
    .option('--group <group>', 'add: a group that it is in, from which columns may be hidden; may be repeated', several)
    .option('--until <date>', 'add: the last day it is good on')
    .option('--operator', 'add: for the figures of the server, at /metrics')
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow token books add --name 'bottling line' --book honey --role enter\n  mellow token books list\n  mellow token books withdraw 'bottling line'\n",
  )
  return command.action(async (folder: string, action: string, which: string | undefined, args: TokenArguments) => {
    finish((await import('./token.js')).runToken(folder, action, which, args, io))
  })
}

/** The verb `backup`: copies of all workbooks. */
export function backupCommand({ io, finish }: VerbTools): Command {
  const command = new Command('backup')
    .description(
      'Copies all workbooks of a folder, and its tokens, into another one. Workbooks that are served meanwhile are copied whole.',
    )
    .argument('<folder>')
    .argument('<target>', 'a folder, made where there is none; nothing in it is written over')
  command.addHelpText('after', '\nExample:\n  mellow backup books backups/2026-07-01\n')
  return command.action(async (folder: string, target: string) => {
    finish((await import('./backup.js')).runBackup(folder, target, io))
  })
}
