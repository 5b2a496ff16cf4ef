import { type Command, Option } from 'commander'

/** What every verb that changes a workbook takes. */
export interface ChangeArguments {
  readonly preview?: boolean
  readonly strict?: boolean
  readonly findings?: 'json'
  readonly author?: string
  readonly wait?: string
  readonly color: boolean
}

/** Adds the options of every verb that changes a workbook. */
export function addChangeOptions(command: Command): Command {
  return addLookOptions(
    command
      .option('--preview', 'say what would follow, and change nothing')
      .option('--strict', 'refuse on warnings too')
      .option('--author <name>', 'who does it, for the history; the user of this machine unless given')
      .option('--wait <seconds>', 'how long to wait for another process that changes the workbook; 10 unless given'),
  )
}

/** Adds the options of every verb that works with a workbook. */
export function addLookOptions(command: Command): Command {
  return command
    .addOption(new Option('--findings <format>', 'findings as JSON on standard error, and nothing else there').choices(['json']))
    .option('--no-color', 'no colours')
}

/** Takes every value of an option that may be repeated. */
export const collect = (value: string, before: readonly string[]): string[] => [...before, value]

/** The same where a value may be several with commas between them. */
export const collectList = (value: string, before: readonly string[]): string[] => [
  ...before,
  ...value.split(',').flatMap((one) => (one.trim() === '' ? [] : [one.trim()])),
]
