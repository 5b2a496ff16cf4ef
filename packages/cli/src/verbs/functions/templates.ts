import { type FilledTemplate, printName } from 'mellow-abacus'
import { lookAt, shownText, tableOf } from '../../books/index.js'
import { CommandRefusal, type Io, makePaint, type Paint, shellWord, UsageFault } from '../../shell/index.js'

/** What `mellow functions --book` is told. */
export interface TemplateArguments {
  readonly color: boolean
  readonly book: string
  readonly table?: string
}

/** Runs `mellow functions` with a workbook: formulas for a purpose, filled in and previewed. */
export async function runTemplates(words: string, { book, table: name, color }: TemplateArguments, io: Io): Promise<number> {
  if (words === '') throw new UsageFault("say what the formulas are for, such as 'average by site'.")
  return lookAt(book, { color }, io, ({ book: workbook }) => {
    const table = tableOf(workbook, name)
    const found = workbook.formulasFor(table.name, words)
    if (found.length === 0)
      throw new CommandRefusal(
        `No formula answers to "${words}" in ${table.name}. Functions by these words: mellow functions ${shellWord(words)}`,
      )
    const paint = makePaint(io.colours)
    const definition = Object.entries(found[0]?.formulas ?? {})[0] as [string, string]
    const next = `Take it: mellow define ${shellWord(book)} ${shellWord(table.name)} ${shellWord(`${printName(definition[0])} = ${definition[1]}`)}`
    io.show(`${found.map((one) => templateText(one, paint)).join('')}\n${paint.quiet(next)}\n`)
    return undefined
  })
}

function templateText({ formulas, explanation, preview }: FilledTemplate, paint: Paint): string {
  const lines = Object.entries(formulas).map(([name, formula]) => `  ${paint.calculated(`${printName(name)} = ${formula}`)}\n`)
  const rows = preview.map(({ rowNumber, values }) => `row ${rowNumber}: ${Object.values(values).map(shownText).join(', ')}`)
  return `${lines.join('')}    ${explanation}\n${rows.length === 0 ? '' : `    ${paint.quiet(rows.join('   '))}\n`}`
}
