import { READABLE_FORMATS, type ReadableFormat } from '@mellow-abacus/files'
import { type Command, Option } from 'commander'

// Only what the command line looks like: what the options mean stands in reading-options.ts, which loads the library.

/** Options that say how a file is read, as the command line gives them. */
export interface ReadingArguments {
  readonly from?: ReadableFormat
  readonly delimiter?: string
  readonly decimal?: string
  readonly thousands?: string
  readonly duplicates?: 'refuse' | 'rename'
  readonly longRows?: 'refuse' | 'keep' | 'cut'
  readonly quotes?: 'csv' | 'literal'
  readonly encoding?: string
  readonly headerRow?: string
  readonly sheet?: string
  readonly type: readonly string[]
  readonly blank?: string
}

/** Options that say what a formula finds around it. */
export interface SurroundingArguments {
  readonly now?: string
  readonly seed?: string
  readonly zone?: string
  readonly locale?: string
}

const collect = (value: string, before: readonly string[]): string[] => [...before, value]

/** Adds the reading options to a verb. */
export function addReadingOptions(command: Command): Command {
  return command
    .addOption(
      new Option('--from <format>', 'format of the input; found from its name unless given').choices([...READABLE_FORMATS]),
    )
    .option('--delimiter <character>', 'what stands between cells; \\t is a tab')
    .option('--decimal <mark>', 'decimal mark of numbers, "." or ","')
    .option('--thousands <mark>', "what stands between thousands of numbers: ',', '.', a space or an apostrophe")
    .addOption(new Option('--duplicates <how>', 'what to do with a header that is there twice').choices(['refuse', 'rename']))
    .addOption(new Option('--long-rows <how>', 'what to do with cells beyond the header').choices(['refuse', 'keep', 'cut']))
    .addOption(new Option('--quotes <how>', 'whether quotes hold cells together or are signs').choices(['csv', 'literal']))
    .option('--encoding <label>', 'encoding of the input, such as windows-1252; UTF-8 unless given')
    .option('--header-row <n>', 'line of the header; lines before it are skipped')
    .option('--sheet <name>', 'sheet of an XLSX file; the first one unless given')
    .option(
      '--type <column=type>',
      "type of a column, such as 'code=text', 'seen=date:dd/MM/yyyy' or 'price=number:#.##0,00'; may be repeated",
      collect,
      [],
    )
    .option('--blank <texts>', "texts that mean blank, separated by commas, such as 'n/a,-'")
}

/** Adds the surroundings to a verb. */
export function addSurroundingOptions(command: Command): Command {
  return command
    .option('--now <time>', 'what now() and today() give, in ISO 8601; the time of the call unless given')
    .option('--seed <n>', 'seed of chance')
    .option('--zone <zone>', 'time zone for texts with an offset, such as Europe/Oslo; UTC unless given')
    .option('--locale <tag>', 'language of upper and lower case, such as tr; en unless given')
}
