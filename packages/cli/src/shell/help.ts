import type { Command, Option } from 'commander'

/** Adds the lines that end the help of the tool itself: what to type first. */
export function addHelp(program: Command): void {
  program.addHelpText(
    'after',
    `
Examples:
  mellow demo                       write the demo tables and walk through them
  mellow calc inspections.csv 'infestation = 100 * mites per bees_sampled'
  mellow import honey inspections.csv   a workbook, made if there is none
  mellow define honey inspections 'infestation = 100 * mites per bees_sampled'
  mellow list https://honey.example/books/takings   one at a server; a token goes into MELLOW_TOKEN
  mellow functions 'split a name'   find a function by what it is for

Exit codes: 0 done, 1 understood but refused, 2 the command was wrong or a file could not be read.
`,
  )
}

/** Words the help of a command as the rest of the tool is worded. */
export function inOwnWords(command: Command): void {
  command.helpOption('-h, --help', 'print this help')
  command.configureHelp({
    styleTitle: (title) => TITLES[title] ?? title,
    optionDescription: ({ description, argChoices }: Option) => {
      const choices = argChoices === undefined ? '' : `: ${argChoices.join(', ')}`
      return `${description}${choices}`
    },
  })
}

const TITLES: Readonly<Record<string, string>> = {
  'Usage:': 'How to use it:',
  'Arguments:': 'What it takes:',
  'Options:': 'Options:',
}
