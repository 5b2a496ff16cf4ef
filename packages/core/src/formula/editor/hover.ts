import { functionNamed, guideOf } from '../../functions/index.js'
import { printUnit } from '../../units/index.js'
import { printName } from '../../values/index.js'
import type { Scope, ScopeColumn } from '../check/index.js'
import { parseFormula } from '../syntax/index.js'
import { placeAt } from './place.js'
import { signatureAt } from './signature.js'
import { type TokenKind, tokenKinds } from './token-kinds.js'

/** What there is to say about the word at a place. */
export interface Hover {
  readonly from: number
  readonly to: number
  readonly kind: TokenKind
  readonly title: string
  readonly lines: readonly string[]
}

/** Words of the language, each in one sentence. */
const wordTexts: ReadonlyMap<string, string> = new Map([
  ['and', 'True where both sides are; false decides it whatever the other side is.'],
  ['or', 'True where either side is; true decides it whatever the other side is.'],
  ['not', 'True where the condition is false; a blank stays blank.'],
  ['between', 'Whether a value lies between two others, both included.'],
  ['in', 'Whether a value is one of a list; behind let, the formula that uses the step.'],
  ['is', 'Asks whether a value is blank or an error; the answer is never blank.'],
  ['blank', 'No value: neither zero nor the empty text.'],
  ['per', 'Divides, and is blank where the divisor is zero or blank.'],
  ['case', 'Takes the first branch whose condition is true.'],
  ['when', 'Begins a branch with its condition.'],
  ['then', 'The value of a branch.'],
  ['else', 'The value where no condition is true; without it, blank.'],
  ['end', 'Closes a case.'],
  ['let', 'Names a step of the formula.'],
  ['where', 'Keeps the rows for which a condition is true.'],
  ['by', 'Keeps the rows whose keys equal those of this row.'],
  ['order', 'The order in which rows are looked at.'],
  ['via', 'The link that leads from the rows read to this row.'],
  ['below', 'All rows below this one, through a link of the table to itself.'],
  ['every', 'All rows of the table, linked or not.'],
  ['desc', 'From the largest to the smallest.'],
  ['true', 'The truth value true.'],
  ['false', 'The truth value false.'],
])

/** Explains the name, function or word at a place; null where there is nothing to say. */
export function hoverAt(text: string, offset: number, scope: Scope): Hover | null {
  const parsed = parseFormula(text)
  const place = placeAt(parsed, scope, offset)
  const { token } = place
  if (token === undefined) return null
  const kind = tokenKinds(text, scope).find((one) => one.from === token.from)?.kind
  if (kind === undefined || (token.kind !== 'name' && token.kind !== 'tag')) return null
  const at = { from: token.from, to: token.to, kind }
  const name = token.name
  switch (kind) {
    case 'function': {
      const help = signatureAt(`${name}(`, name.length + 1, scope)
      const record = functionNamed(name)
      const own = record === undefined ? scope.functionNamed(name) : undefined
      if (help !== null && own !== undefined) {
        const note = own.note === null ? [] : [own.note]
        return { ...at, title: help.form, lines: [...note, `= ${own.body.text}`, 'A function of this workbook.'] }
      }
      if (help === null || record === undefined) return null
      const { doc, blanks, examples } = guideOf(record)
      return { ...at, title: help.form, lines: [doc, `Blanks: ${blanks}.`, `Example: ${examples[0].formula}`] }
    }
    case 'keyword': {
      const line = wordTexts.get(name.toLowerCase())
      return line === undefined ? null : { ...at, title: name.toLowerCase(), lines: [line] }
    }
    case 'tag': {
      const columns = place.level.scope.tagged(name).map((column) => printName(column.name))
      return {
        ...at,
        title: `#${name}`,
        lines: [columns.length === 0 ? 'No column has this tag.' : `Columns: ${columns.join(', ')}.`],
      }
    }
    case 'step':
      return { ...at, title: printName(name), lines: ['A named step of this formula.'] }
    case 'column': {
      const column = columnAt(parsed.text, scope, token.from) ?? place.level.scope.column(name)
      return column === undefined ? null : { ...at, title: printName(column.name), lines: columnLines(column) }
    }
    case 'link': {
      const link = place.level.scope.link(name)
      return {
        ...at,
        title: printName(name),
        lines: link === undefined ? ['A link.'] : [`A link to table ${link.target.table}.`],
      }
    }
    case 'table':
      return { ...at, title: printName(name), lines: ['A table of the workbook.'] }
    case 'value':
      return { ...at, title: printName(name), lines: ['A single value: a named value of the workbook, or a tally.'] }
    default:
      return null
  }
}

function columnAt(text: string, scope: Scope, from: number): ScopeColumn | undefined {
  return tokenKinds(text, scope).find((one) => one.from === from)?.column
}

function columnLines(column: ScopeColumn): string[] {
  const lines = [
    [column.type ?? 'no type yet', column.unit === undefined ? '' : printUnit(column.unit)]
      .filter((part) => part !== '')
      .join(', '),
  ]
  const detail = column.detail?.()
  if (detail?.note !== undefined) lines.push(detail.note)
  if (detail?.formula !== undefined) lines.push(`= ${detail.formula}`)
  const sample = column.sample?.() ?? ''
  if (sample !== '') lines.push(`For example ${sample}`)
  return lines
}
