/**
 * Verbs that get rows in: new workbooks and tables, files read, read again and watched.
 * @module
 */
import { Command, Option } from 'commander'
import {
  addChangeOptions,
  addLookOptions,
  addReadingOptions,
  addSurroundingOptions,
  type ChangeArguments,
  collect,
  type SurroundingArguments,
} from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { AttachArguments } from './attach.js'
import type { ImportArguments } from './import.js'
import type { RereadArguments } from './reread.js'

/** The verb `new`: an empty workbook. */
export function newCommand({ io, finish }: VerbTools): Command {
  const command = new Command('new')
    .description('Makes an empty workbook, a file that ends in .mellow.')
    .argument('<book>', 'the workbook; .mellow may be left off')
  addLookOptions(addSurroundingOptions(command))
  command.addHelpText('after', '\nExample:\n  mellow new honey\n')
  return command.action(async (book: string, args: ChangeArguments & SurroundingArguments) => {
    finish(await (await import('./create.js')).runNew(book, args, io))
  })
}

/** The verb `table`: a table from nothing. */
export function tableCommand({ io, finish }: VerbTools): Command {
  const command = new Command('table')
    .description('Adds an empty table; with --rows so many blank rows.')
    .argument('<book>')
    .argument('<table>', 'its name; the word add before it may be left out')
    .argument('[columns...]', "columns, each a name or 'name:type'")
    .option('--rows <n>', 'blank rows to begin with')
    .option('--calendar <span>', 'a day a row, such as 2026-01-01..2027-12-31, with whether it is a working day')
    .option('--weekend <days>', "days of the weekend, for a calendar; 'sat sun' unless given")
    .option('--holidays <file>', 'a file of days and their names, for a calendar')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    '\nExample:\n  mellow table honey visits hive day:date frames:number --rows 12\n  mellow table honey calendar --calendar 2026-01-01..2026-12-31 --holidays days.csv\n',
  )
  return command.action(async (book: string, table: string, columns: string[], args) => {
    finish(await (await import('./create.js')).runTable(book, [table, ...columns], args, io))
  })
}

/** The verb `import`: a table from a file. */
export function importCommand({ io, finish }: VerbTools): Command {
  const command = new Command('import')
    .description(
      'Reads a file into a table of a workbook, which is made if there is none, and says what was found; a bundle (.zip) makes a workbook.',
    )
    .argument('<book>')
    .argument('<file>', 'the file to read; - is standard input')
    .option('--table <name>', 'name of the table; that of the file unless given')
    .option('--label <column>', 'the column that names a row')
    .option('--key <columns>', 'columns by which rows are found again when the file is read again')
  addChangeOptions(addSurroundingOptions(addReadingOptions(command)))
  command.addHelpText('after', "\nExample:\n  mellow import honey hives.csv --key tag --type 'tag=text'\n")
  return command.action(async (book: string, file: string, args: ImportArguments) => {
    finish(await (await import('./import.js')).runImport(book, file, args, io))
  })
}

/** The verb `reread`: the file of a table once more. */
export function rereadCommand({ io, finish }: VerbTools): Command {
  const command = new Command('reread')
    .description('Reads the source of a table again. Rows are matched by key; formulas stay.')
    .argument('<book>')
    .argument('<table>')
    .argument('[file]', 'the file; the one it was read from unless given')
    .option('--map <old=new>', 'a column goes by another name in the file now; may be repeated', collect, [])
    .option('--keep <column>', 'a column that is gone from the file keeps its values; may be repeated', collect, [])
    .option('--detach <column>', 'formulas that read a column that is gone keep their values; may be repeated', collect, [])
  addRowOptions(command)
  addChangeOptions(addReadingOptions(command))
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow reread honey hives --map yard=apiary\n  mellow reread honey weather --order file --preview\n',
  )
  return command.action(async (book: string, table: string, file: string | undefined, args: RereadArguments) => {
    finish(await (await import('./reread.js')).runReread(book, table, file, args, io))
  })
}

/** The verb `attach`: a table that is a sample of what a database has. */
export function attachCommand({ io, finish }: VerbTools): Command {
  const command = new Command('attach')
    .description(
      'Makes a table of a sample of the rows of a database, and remembers where they are. Formulas are written on the sample, and run over all rows where the model is published. A table that is there already takes the sample in and keeps its formulas. User and password come from the environment (PGUSER, PGPASSWORD) or from ~/.pgpass, and are kept nowhere.',
    )
    .argument('<book>')
    .argument('<table>')
    .requiredOption('--from <address>', 'postgresql://host/database or duckdb:file.db')
    .option('--source <relation>', 'the table or view there, such as schema.table; that of the same name unless given')
    .option('--sample <n>', 'about how many rows to take, spread over all; 50000 unless given')
    .option('--key <columns>', 'columns that tell rows apart and are their order; the key of the database unless given')
    .option('--map <old=new>', 'a column goes by another name there now; may be repeated', collect, [])
    .option('--keep <column>', 'a column that is gone there keeps its values; may be repeated', collect, [])
    .option('--detach <column>', 'formulas that read a column that is gone keep their values; may be repeated', collect, [])
    .addOption(
      new Option('--gone <fate>', 'rows of the sample before: drop lets go of values typed beside them too').choices([
        'keep',
        'drop',
      ]),
    )
  addChangeOptions(addSurroundingOptions(command))
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow attach honey harvests --from postgresql://db.example/bees --source public.harvests\n  mellow attach honey harvests --from duckdb:honey.db --sample 20000 --key hive,day\n',
  )
  return command.action(async (book: string, table: string, args: AttachArguments) => {
    finish(await (await import('./attach.js')).runAttach(book, table, args, io))
  })
}

/** Options that say what becomes of rows when a file is read again. */
function addRowOptions(command: Command): void {
  command
    .addOption(
      new Option('--gone <fate>', 'rows that the file has no more: drop lets go of values typed beside them too').choices([
        'keep',
        'drop',
      ]),
    )
    .addOption(new Option('--repeated <fate>', 'rows with a key that a row before has').choices(['keep', 'drop']))
    .addOption(new Option('--order <whose>', 'how rows stand afterwards').choices(['file', 'table']))
}

/** The verb `watch`: a file read again whenever it changes. */
export function watchCommand({ io, finish }: VerbTools): Command {
  const command = new Command('watch')
    .description('Reads the source of a table again each time the file changes, until it is ended.')
    .argument('<book>')
    .argument('<table>')
    .argument('<file>')
    .option('--times <n>', 'end after so many changes')
  addRowOptions(command)
  addChangeOptions(addReadingOptions(command))
  command.addHelpText('after', '\nExample:\n  mellow watch honey weather weather.csv\n')
  return command.action(async (book: string, table: string, file: string, args: RereadArguments & { times?: string }) => {
    finish(await (await import('./watch.js')).runWatch(book, table, file, { ...args, map: [], keep: [], detach: [] }, io))
  })
}
