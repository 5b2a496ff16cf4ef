/**
 * Verbs for the steps of a workbook: listed, taken back, applied, written out, replayed.
 * @module
 */
import { Command } from 'commander'
import { addChangeOptions, addLookOptions, addReadingOptions, type ChangeArguments, collect } from '../../options/index.js'
import type { Verb, VerbTools } from '../verb.js'
import type { JournalArguments } from './operation-lines.js'
import type { ReplayArguments } from './replay.js'

function history({ io, finish }: VerbTools): Command {
  const command = new Command('history')
    .description('Lists the steps of a workbook: when, who, what, and how many cells followed.')
    .argument('<book>')
    .option('--limit <n>', 'the last so many steps')
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow history honey --limit 10\n')
  return command.action(async (book: string, args: ChangeArguments & { limit?: string }) => {
    finish(await (await import('./history.js')).runHistory(book, args, io))
  })
}

function turn(verb: 'undo' | 'redo', description: string): (tools: VerbTools) => Command {
  return ({ io, finish }) => {
    const command = new Command(verb).description(description).argument('<book>').argument('[n]', 'so many steps, 1 unless given')
    addChangeOptions(command)
    command.addHelpText('after', `\nExample:\n  mellow ${verb} honey 2\n`)
    return command.action(async (book: string, steps: string | undefined, args: ChangeArguments) => {
      finish(await (await import('./history.js')).runTurn(verb, book, steps, args, io))
    })
  }
}

function apply({ io, finish }: VerbTools): Command {
  const command = new Command('apply')
    .description(
      'Applies operations, a set a line: an operation or a list of them as JSON. Prints the revision of each once it is kept for good.',
    )
    .argument('<book>')
    .argument('<file>', 'an NDJSON file; - is standard input')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow apply honey steps.ndjson\n')
  return command.action(async (book: string, file: string, args: ChangeArguments) => {
    finish(await (await import('./operation-lines.js')).runApply(book, file, args, io))
  })
}

function journal({ io, finish }: VerbTools): Command {
  const command = new Command('journal')
    .description('Writes the steps of a workbook as NDJSON, to be replayed.')
    .argument('<book>')
    .option('-o, --output <file>', 'write to a file')
    .option('--trim', 'leave out steps that were undone')
    .option('--salvage', 'of a damaged workbook, as many steps as can still be read')
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow journal honey --trim -o steps.ndjson\n')
  return command.action(async (book: string, args: JournalArguments) => {
    finish(await (await import('./operation-lines.js')).runJournal(book, args, io))
  })
}

function replay({ io, finish }: VerbTools): Command {
  const command = new Command('replay')
    .description('Repeats the steps of a journal in a workbook, which is made if there is none.')
    .argument('<file>', 'an NDJSON file, as mellow journal writes it')
    .argument('<book>')
    .option('--source <table=file>', 'read this file where the journal read another into a table; may be repeated', collect, [])
    .option('--pace <seconds>', 'wait so long after each step')
    .option('--step', 'wait for Enter before each step')
  addChangeOptions(addReadingOptions(command))
  command.addHelpText('after', '\nExample:\n  mellow replay steps.ndjson april --source weather=april.csv\n')
  return command.action(async (file: string, book: string, args: ReplayArguments) => {
    finish(await (await import('./replay.js')).runReplay(file, book, args, io))
  })
}

/** The verbs of the history of a workbook. */
export const HISTORY_COMMANDS: Readonly<Record<string, Awaited<ReturnType<Verb['load']>>>> = {
  history,
  undo: turn('undo', 'Takes the last steps back, no matter who did them.'),
  redo: turn('redo', 'Does undone steps again.'),
  apply,
  journal,
  replay,
}
