/**
 * Verbs that carry a model to a database, where the data is.
 * @module
 */
import { Command } from 'commander'
import { addLookOptions, collect, collectList } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { PublishArguments } from './publish.js'
import type { RefreshArguments } from './refresh.js'

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
    .option(
      '--kept <columns>',
      'columns (table.column), tallies and named values whose values are kept in tables, with a comma between them; "mellow refresh" brings them up to date',
      collectList,
      [],
    )
    .option('--since <column>', 'a column of the sources that says when a row was last changed, by which they are refreshed')
    .option(
      '--triggers',
      'let PostgreSQL note which rows of the sources change, by triggers on these tables, which are all that is made outside of the schema',
    )
    .option(
      '--shards <file>',
      'how rows are spread over servers of PostgreSQL, as JSON: { "shards": [{ "server": …, "address": … }], "tables": { "harvests": "hive" } }; --to is the one that puts together what they give',
    )
    .option(
      '--gather <tables>',
      'with --shards: tables whose rows may all be brought there, with a comma between them',
      collectList,
      [],
    )
    .option('--replace', 'take over a schema that holds the model of another workbook')
    .option('-o, --output <file>', 'write the statements to a file, and publish nothing')
    .option('--json', 'tell what was done as JSON')
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow publish honey --to duckdb:honey.db\n  mellow publish honey --to postgresql://db.example/bees --schema honey --preview\n  mellow publish honey --to postgresql -o model.sql\n  mellow publish honey --to postgresql://db.example/bees --shards shards.json --preview\n',
  )
  return command.action(async (book: string, args: PublishArguments) => {
    finish(await (await import('./publish.js')).runPublish(book, args, io))
  })
}

/** The verb `refresh`: what is kept, brought up to date. */
export function refreshCommand({ io, finish }: VerbTools): Command {
  const command = new Command('refresh')
    .description(
      'Brings what a published model keeps ("mellow publish --kept") up to date with its sources: rows that have changed are found, then the rows that read them, and only these are calculated again. A row whose value comes out as it was passes nothing on. All of it is one transaction.',
    )
    .argument('<book>')
    .option('--to <address>', 'the database that it was published to; that of the attached tables unless given')
    .option('--schema <name>', 'the schema that it was published in, mellow unless given')
    .option('--follow', 'go on, until Ctrl+C, whenever the database says that rows have changed, and every so often')
    .option('--every <seconds>', 'how often to look with --follow; 60 unless given')
    .option('--times <n>', 'end after so many times with --follow')
    .option('--json', 'tell what was done as JSON, a line each time')
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow publish coop --to duckdb:bees.db --kept harvests.share,hives.honey\n  mellow refresh coop\n  mellow refresh coop --follow --every 10\n',
  )
  return command.action(async (book: string, args: RefreshArguments) => {
    finish(await (await import('./refresh.js')).runRefresh(book, args, io))
  })
}
