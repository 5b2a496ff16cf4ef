/**
 * Verbs that write cells, add and remove rows, and fill a column once.
 * @module
 */
import { Command } from 'commander'
import { addChangeOptions, type ChangeArguments } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { WhereArguments } from './edit.js'

/** The verb `set`: cells. */
export function setCommand({ io, finish }: VerbTools): Command {
  const command = new Command('set')
    .description('Writes cells of a row, or of the rows where a condition is true, and says what was recalculated.')
    .argument('<book>')
    .argument('<table>')
    .argument('[row and values...]', 'a row (its number, id:12 or label=text) and name=value; name= is blank, name="" empty text')
    .option('--where <condition>', 'write the rows where this is true')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow set honey inspections 12 mites=9 bees_sampled=300\n  mellow set honey inspections --where 'mites > 300' mites=\n",
  )
  return command.action(async (book: string, table: string, words: string[], args: WhereArguments) => {
    finish(await (await import('./edit.js')).runSet(book, table, words, args, io))
  })
}

/** The verb `rows`: rows added and removed. */
export function rowsCommand({ io, finish }: VerbTools): Command {
  const command = new Command('rows')
    .description('Adds rows to a table, or removes some.')
    .argument('<book>')
    .argument('<table>')
    .argument('<action>', 'add or remove')
    .argument('[words...]', 'add: how many, and name=value; remove: rows')
    .option('--where <condition>', 'remove the rows where this is true')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow rows honey inspections add hive=H-07 mites=3 bees_sampled=300\n  mellow rows honey inspections remove 12 13\n  mellow rows honey inspections remove --where 'seen is blank'\n",
  )
  return command.action(async (book: string, table: string, action: string, words: string[], args: WhereArguments) => {
    finish(await (await import('./edit.js')).runRows(book, table, action, words, args, io))
  })
}

/** The verb `fill`: a column written once. */
export function fillCommand({ io, finish }: VerbTools): Command {
  const command = new Command('fill')
    .description('Writes a column once by a formula; its cells can be typed over afterwards. The formula may read its old value.')
    .argument('<book>')
    .argument('<table>')
    .argument('<definition>', "'name = formula'")
    .option('--replace', 'write over the values that are there')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow fill honey visits 'number = row_number()'\n  mellow fill honey visits 'day = date(2026, 3, 1) + 7 * (row_number() - 1)'\n",
  )
  return command.action(
    async (book: string, table: string, definition: string, args: ChangeArguments & { replace?: boolean }) => {
      finish(await (await import('./edit.js')).runFill(book, table, definition, args, io))
    },
  )
}
