import { Command, CommanderError } from 'commander'
import { addHelp, CommandRefusal, ExitCode, type Io, inOwnWords, nearestName, processIo, UsageFault } from './shell/index.js'
import { STEPS, VERBS } from './verbs/index.js'

/**
 * Runs the terminal tool: 0 when done, 1 when understood but refused, 2 when the command was wrong or a file could not be
 * read. The exit code is set on the process, so that what is still to be written is written.
 */
export async function main(args: readonly string[], io: Io = processIo()): Promise<void> {
  process.exitCode = await run(args, io)
}

/** Runs one command line and gives its exit code. */
export async function run(args: readonly string[], io: Io): Promise<number> {
  let exitCode: number = ExitCode.done
  const finish = (code: number): void => {
    exitCode = code
  }
  const program = new Command('mellow')
    .description('Calculated columns that follow their sources.')
    .version('0.1.0', '--version', 'print the version')
    .helpOption('-h, --help', 'print this help')
    .helpCommand('help [verb]', 'how to use a verb')
    .configureOutput({
      writeOut: (text) => io.show(text),
      writeErr: () => undefined,
      getOutHasColors: () => io.colours,
      getErrHasColors: () => io.colours,
    })
    .exitOverride()
  const asked = askedVerb(args)
  if (asked !== null) {
    const near = nearestName(
      asked,
      VERBS.map(({ name }) => name),
    )
    io.err(`mellow: there is no verb ${asked}.${near === undefined ? '' : ` Nearest: ${near}.`}\nSee: mellow help\n`)
    return ExitCode.wrong
  }
  // Only the verb that is used is loaded: starting costs half of what loading all would (bench: start).
  const used = args.slice(0, 2).find((arg) => VERBS.some((verb) => verb.name === arg))
  for (const { name, step, form, summary, load } of STEPS.flatMap((one) => VERBS.filter((verb) => verb.step === one))) {
    const command = name === used ? (await load())({ io, finish, run, verbs: VERBS }) : new Command(name).arguments(form)
    command.summary(summary).helpGroup(`${step}:`).configureOutput(program.configureOutput()).exitOverride()
    inOwnWords(command)
    program.addCommand(command)
  }
  inOwnWords(program)
  addHelp(program)
  try {
    if (args.length === 0) {
      program.outputHelp()
      return ExitCode.done
    }
    await program.parseAsync(args as string[], { from: 'user' })
  } catch (error) {
    if (error instanceof CommanderError) return endOfCommander(error, args, io)
    if (error instanceof UsageFault) {
      io.err(`mellow: ${error.message}\n`)
      return ExitCode.wrong
    }
    if (error instanceof CommandRefusal) {
      io.err(`mellow: ${error.message}\n`)
      return ExitCode.refused
    }
    throw error
  }
  return exitCode
}

/** The verb that `help` is asked about, where there is none of that name. */
function askedVerb(args: readonly string[]): string | null {
  const [first, name] = args
  const isUnknown = first === 'help' && name !== undefined && !name.startsWith('-') && !VERBS.some((verb) => verb.name === name)
  return isUnknown ? name : null
}

/** Commander throws for help and version too, whose exit code is 0. */
function endOfCommander(error: CommanderError, args: readonly string[], io: Io): number {
  if (error.exitCode === 0) return ExitCode.done
  const verb = args.find((arg) => !arg.startsWith('-')) ?? ''
  const known = VERBS.some(({ name }) => name === verb)
  const message = error.message.replace(/^error: /, '').replace(/\n\(Did you mean (one of )?(.*?)\?\)/, '. Nearest: $2')
  io.err(`mellow: ${message.replace(/\.?$/, '.')}\nSee: mellow help${known ? ` ${verb}` : ''}\n`)
  return ExitCode.wrong
}
