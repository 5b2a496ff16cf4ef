/**
 * Verbs for the life of a column: renamed, hidden, paused, detached, removed, calculated again.
 * @module
 */
import { Command, Option } from 'commander'
import { addChangeOptions, type ChangeArguments } from '../../options/index.js'
import type { Verb, VerbTools } from '../verb.js'
import type { StampArguments } from './change-column.js'

/** A verb that does one thing to what an address names. */
function addressVerb(
  name: string,
  description: string,
  example: string,
  declare: (command: Command) => Command = (command) => command,
): (tools: VerbTools) => Command {
  return ({ io, finish }) => {
    const command = declare(new Command(name).description(description).argument('<book>').argument('<address>', 'table.column'))
    addChangeOptions(command)
    command.addHelpText('after', `\nExample:\n  mellow ${example}\n`)
    return command.action(async (book: string, address: string, args: ChangeArguments) => {
      finish(await (await import('./change-column.js')).runLife(name, book, address, args, io))
    })
  }
}

const pause = addressVerb(
  'pause',
  'Keeps the formula of a column but lets its cells be typed over.',
  'pause honey inspections.score',
)
const resume = addressVerb(
  'resume',
  'Has a paused column calculate again.',
  'resume honey inspections.score --discard 2',
  (command) => command.option('--discard <n>', 'so many cells typed by hand may be lost'),
)
const detach = addressVerb('detach', 'Drops the formula of a column and keeps its values.', 'detach honey inspections.score')
/** The verb `stamp`: when, or by whom, something was filled. */
function stamp({ io, finish }: VerbTools): Command {
  const command = new Command('stamp')
    .description('Makes a column that records when, or by whom, other columns of the row were first filled or last changed.')
    .argument('<book>')
    .argument('<address>', 'table.column, a new one')
    .requiredOption('--when <columns>', 'the columns to watch, separated by commas')
    .addOption(
      new Option('--on <event>', 'the first time one of them is filled, or every change').choices(['first-fill', 'each-change']),
    )
    .addOption(new Option('--content <what>', 'the time, or who it was').choices(['time', 'author']))
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow stamp honey inspections.seen_at --when mites,notes\n')
  return command.action(async (book: string, address: string, args: StampArguments) => {
    finish(await (await import('./change-column.js')).runStamp(book, address, args, io))
  })
}

/** The option `--from`, which can be repeated. */
const fromGroup = (description: string) => (command: Command) =>
  command.option('--from <group>', description, (group: string, groups: readonly string[] = []) => [...groups, group])
const hide = addressVerb(
  'hide',
  'Leaves a column out of what is shown; formulas read it as before.',
  'hide honey hives.cost --from buyers',
  fromGroup('a group of readers for whom it does not exist, as long as they may not define; can be repeated'),
)
const unhide = addressVerb(
  'unhide',
  'Shows a hidden column again.',
  'unhide honey hives.cost --from buyers',
  fromGroup('to readers of this group; to all when left out'),
)
const remove = addressVerb(
  'remove',
  'Takes a column, table, link, value, tally, rule, function, report or chart away.',
  'remove honey hives.note',
  (command) =>
    command
      .option('--with-dependants', 'and every column that reads it')
      .option('--detach-dependants', 'columns that read it keep their values and lose their formulas'),
)

/** The verb `rename`: another name. */
function rename({ io, finish }: VerbTools): Command {
  const command = new Command('rename')
    .description('Gives a column, a table or a function another name; formulas follow.')
    .argument('<book>')
    .argument('<address>', 'table.column, a table, or function:name')
    .argument('<to>', 'the word to')
    .argument('<name>', 'the new name')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow rename honey hives.yard to apiary\n')
  return command.action(async (book: string, address: string, to: string, name: string, args: ChangeArguments) => {
    finish(await (await import('./change-column.js')).runRename(book, address, to, name, args, io))
  })
}

/** The verb `mode`: when to calculate. */
function mode({ io, finish }: VerbTools): Command {
  const command = new Command('mode')
    .description('Says when columns follow their sources: live, at every edit, or on-demand, when recalculate is called.')
    .argument('<book>')
    .argument('<mode>', 'live or on-demand')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow mode honey on-demand\n')
  return command.action(async (book: string, to: string, args: ChangeArguments) => {
    finish(await (await import('./change-column.js')).runMode(book, to, args, io))
  })
}

/** The verb `recalculate`: what is stale. */
function recalculate({ io, finish }: VerbTools): Command {
  const command = new Command('recalculate')
    .description('Calculates what is stale, all of it or some columns.')
    .argument('<book>')
    .argument('[addresses...]', 'table.column')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow recalculate honey inspections.score\n')
  return command.action(async (book: string, addresses: string[], args: ChangeArguments) => {
    finish(await (await import('./change-column.js')).runRecalculate(book, addresses, args, io))
  })
}

/** The verb `tick`: clock and seed. */
function tick({ io, finish }: VerbTools): Command {
  const command = new Command('tick')
    .description("Moves the workbook's clock, which today() and now() read, and the seed of chance.")
    .argument('<book>')
    .option('--now <time>', 'the clock from now on, in ISO 8601; the time of the machine unless given')
    .option('--seed <n>', 'the seed; one more than before unless given')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow tick honey --now 2026-06-01\n')
  return command.action(async (book: string, args: ChangeArguments & { now?: string; seed?: string }) => {
    finish(await (await import('./change-column.js')).runTick(book, args, io))
  })
}

/** The verbs of the life of a column, and of when it is calculated. */
export const COLUMN_COMMANDS: Readonly<Record<string, Awaited<ReturnType<Verb['load']>>>> = {
  pause,
  resume,
  detach,
  stamp,
  hide,
  unhide,
  remove,
  rename,
  mode,
  recalculate,
  tick,
}
