import {
  callForm,
  FUNCTION_FAMILIES,
  FUNCTIONS,
  type FunctionExample,
  type FunctionRecord,
  functionNamed,
  guideOf,
  nearestName,
  type Scalar,
  searchFunctions,
  wayOfPhrase,
} from 'mellow-abacus'
import type { Io } from '../../shell/index.js'
import { ExitCode, makePaint, type Paint } from '../../shell/index.js'

/** Runs `mellow functions`. Gives the exit code: 1 when nothing answers to the words. */
export function runFunctions(words: string, io: Io): number {
  const paint = makePaint(io.colours)
  if (words === '') {
    for (const family of FUNCTION_FAMILIES) io.show(familyText(family, paint))
    io.show(paint.quiet("One of them: mellow functions round   By purpose: mellow functions 'split a name'\n"))
    return ExitCode.done
  }
  // Some words name a function and its family: number, text, date.
  const record = functionNamed(words)
  const family = FUNCTION_FAMILIES.find((one) => one === words.toLowerCase())
  if (record !== undefined) io.show(recordText(record, paint))
  if (record !== undefined && family !== undefined) io.show('\n')
  if (family !== undefined) io.show(familyText(family, paint))
  if (record !== undefined || family !== undefined) return ExitCode.done
  const way = wayOfPhrase(words)
  if (way !== null) io.show(`${paint.strong(way.word)}: ${way.says}, such as ${paint.calculated(way.example)}\n`)
  const found = searchFunctions(words).slice(0, MOST_FOUND)
  if (found.length === 0 && way === null) {
    const near = nearestName(
      words,
      FUNCTIONS.map((one) => one.name),
    )
    io.err(
      `No function answers to "${words}".${near === undefined ? '' : ` Nearest name: ${near}.`}\nAll of them: mellow functions\n`,
    )
    return ExitCode.refused
  }
  for (const one of found) io.show(lineText(one, paint))
  return ExitCode.done
}

/** Functions shown of those that answer. */
const MOST_FOUND = 12

function familyText(family: string, paint: Paint): string {
  const members = FUNCTIONS.filter((record) => record.family === family)
  return `${paint.strong(family)}\n${members.map((record) => lineText(record, paint)).join('')}\n`
}

function lineText(record: FunctionRecord, paint: Paint): string {
  return `  ${paint.calculated(callForm(record).padEnd(38))} ${guideOf(record).doc.split(/[.;:](?:\s|$)/)[0]}\n`
}

function recordText(record: FunctionRecord, paint: Paint): string {
  const { doc, blanks, examples } = guideOf(record)
  const width = examples.reduce((most, one) => Math.max(most, one.formula.length), 0)
  const shown = examples.map((example) => {
    const { formula, over } = example
    const rows = over === undefined ? '' : `   ${paint.quiet(`over ${overText(over)}`)}`
    return `  ${formula.padEnd(width)}  → ${resultText(example, paint)}${rows}\n`
  })
  const errors = record.errors.length === 0 ? '' : `Errors: ${record.errors.join(', ')}\n`
  const clauses = record.clauses === undefined ? '' : `Clauses: ${record.clauses.join(', ')}\n`
  return `${paint.strong(record.name)}${record.signature}   ${paint.quiet(record.family)}\n\n${doc}\nBlanks: ${blanks}.\n${clauses}${errors}\nExamples:\n${shown.join('')}`
}

function resultText({ gives, fails, givesRows }: FunctionExample, paint: Paint): string {
  if (fails !== undefined) return paint.error(`!${fails}`)
  return givesRows === undefined ? valueText(gives ?? null, paint) : givesRows.map((one) => valueText(one, paint)).join(', ')
}

function valueText(value: Scalar | null, paint: Paint): string {
  if (value === null) return paint.quiet('blank')
  return typeof value === 'string' ? JSON.stringify(value) : String(value)
}

/** The little table that an example of several rows runs over. */
function overText(over: NonNullable<FunctionExample['over']>): string {
  return Object.entries(over)
    .map(([name, values]) => `${name} ${values.map((value) => (value === null ? 'blank' : String(value))).join(', ')}`)
    .join('; ')
}
