import { existsSync } from 'node:fs'
import { BookFile } from '@mellow-abacus/files'
import { printName } from 'mellow-abacus'
import { bookPath } from '../../books/index.js'
import { ExitCode } from '../../shell/index.js'
import type { VerbTools } from '../verb.js'

/** Runs `mellow completion`. */
export async function runCompletion(shell: string, name: string | undefined, tools: VerbTools): Promise<number> {
  const { io, verbs } = tools
  const lines = (words: readonly string[]): void => void io.out(words.map((word) => `${word}\n`).join(''))
  if (shell === 'words') lines(wordsOf(name))
  else if (shell === 'options') lines(await optionsOf(name, tools))
  else io.out(SCRIPTS[shell as keyof typeof SCRIPTS](verbs.map((verb) => verb.name).join(' ')))
  return ExitCode.done
}

/** The options of a verb. */
async function optionsOf(name: string | undefined, tools: VerbTools): Promise<string[]> {
  const verb = tools.verbs.find((one) => one.name === name)
  if (verb === undefined) return []
  const command = (await verb.load())(tools)
  return [...command.options.map(({ long, short }) => long ?? short ?? ''), '--help']
}

/** Tables and addresses of a workbook; nothing where there is none, since a shell that completes is not to be told of it. */
function wordsOf(book: string | undefined): string[] {
  if (book === undefined || !existsSync(bookPath(book))) return []
  try {
    const file = BookFile.open(bookPath(book), { writes: false })
    const { book: workbook } = file
    const tables = workbook.tables.flatMap((name) => {
      const table = workbook.table(name)
      const own = printName(name)
      return [
        own,
        ...table.columns.map((column) => `${own}.${printName(column.name)}`),
        ...table.tallies.map((tally) => `tally:${own}.${printName(tally)}`),
        ...table.rules.map((rule) => `rule:${printName(rule.name)}`),
        ...table.links.map((link) => `link:${own}.${printName(link)}`),
      ]
    })
    const values = workbook.values.map((name) => `value:${printName(name)}`)
    const functions = workbook.functions.map(({ name }) => `function:${name}`)
    file.close()
    return [...tables, ...values, ...functions]
  } catch {
    return []
  }
}

const SCRIPTS = {
  bash: (verbs: string): string => `_mellow() {
  local current="\${COMP_WORDS[COMP_CWORD]}"
  if [ "$COMP_CWORD" -eq 1 ]; then
    COMPREPLY=($(compgen -W "${verbs} help" -- "$current"))
  elif [[ "$current" == -* ]]; then
    COMPREPLY=($(compgen -W "$(mellow completion options "\${COMP_WORDS[1]}" 2>/dev/null)" -- "$current"))
  else
    COMPREPLY=($(compgen -W "$(mellow completion words "\${COMP_WORDS[2]}" 2>/dev/null)" -- "$current") $(compgen -f -- "$current"))
  fi
}
COMP_WORDBREAKS="\${COMP_WORDBREAKS//:/}"
complete -F _mellow mellow
`,
  zsh: (verbs: string): string => `#compdef mellow
_mellow() {
  if (( CURRENT == 2 )); then
    compadd -- ${verbs} help
  elif [[ "\${words[CURRENT]}" == -* ]]; then
    compadd -- \${(f)"$(mellow completion options "\${words[2]}" 2>/dev/null)"}
  else
    compadd -- \${(f)"$(mellow completion words "\${words[3]}" 2>/dev/null)"}
    _files
  fi
}
compdef _mellow mellow
`,
  fish: (verbs: string): string => `complete -c mellow -n __fish_use_subcommand -f -a '${verbs} help'
complete -c mellow -n 'not __fish_use_subcommand' -a '(mellow completion words (commandline -opc)[3] 2>/dev/null) (mellow completion options (commandline -opc)[2] 2>/dev/null)'
`,
}
