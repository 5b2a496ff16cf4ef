/**
 * Verbs that carry a model to a database, where the data is.
 * @module
 */
import { Command } from 'commander'
import { addLookOptions, collect } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { PublishArguments } from './publish.js'

/** The verb `publish`: the model as views of a database. */
export function publishCommand({ io, finish }: VerbTools): Command {
  const command = new Command('publish')
    .description(
      'Publishes a workbook to a database: its rows as tables, and all its formulas as views that calculate where the data is. Everything is made in one schema and in one transaction, and publishing again changes only what has become different. User and password come from the environment (PGUSER, PGPASSWORD) or from ~/.pgpass, and are kept nowhere.',
    )
    .argument('<book>')
    .requiredOption(
      '--to <address>',
      'postgresql://host/database or duckdb:file.db; with -o and without a database, postgresql or duckdb is enough',
    )
    .option('--schema <name>', 'the schema that everything is made in, mellow unless given; nothing outside of it is touched')
    .option('--preview', 'say what would be done, with the statements, and do nothing')
    .option('--leave-out <address>', 'a formula that is left out, and with it what reads it; may be repeated', collect, [])
    .option('--replace', 'take over a schema that holds the model of another workbook')
    .option('-o, --output <file>', 'write the statements to a file, and publish nothing')
    .option('--json', 'tell what was done as JSON')
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow publish honey --to duckdb:honey.db\n  mellow publish honey --to postgresql://db.example/bees --schema honey --preview\n  mellow publish honey --to postgresql -o model.sql\n',
  )
  return command.action(async (book: string, args: PublishArguments) => {
    finish(await (await import('./publish.js')).runPublish(book, args, io))
  })
}
