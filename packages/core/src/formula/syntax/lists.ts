import type { FormulaReader } from './reader.js'
import type { Token } from './tokens.js'
import type { Syntax } from './tree.js'

/** Formulas up to the closing parenthesis, separated by commas; the opening one is read already. */
export function readList(reader: FormulaReader, open: Token): Syntax[] {
  const list: Syntax[] = []
  if (reader.takeSign(')')) return list
  do list.push(reader.formula())
  while (reader.takeSign(','))
  closeParenthesis(reader, open)
  return list
}

/** Reads the closing parenthesis, or says that it is missing. */
export function closeParenthesis(reader: FormulaReader, open: Token): void {
  if (reader.takeSign(')')) return
  if (reader.here.kind !== 'end') return reader.expected('")"', 'here')
  const at = reader.text.trimEnd().length
  reader.report('unclosed-parenthesis', {}, open, [{ title: 'Close it at the end', edits: [{ from: at, to: at, insert: ')' }] }])
}
