// Reads what the comments of the codes of findings say: why each is said and what to do, and a formula that raises it.
import { examplesOf, textOf, typesOf } from './doc-comments.mjs'

const { checker, exported } = typesOf('findings')
const groups = exported.filter(({ name }) => name.startsWith('CODES_OF_'))
const codes = new Map(
  groups.flatMap((group) =>
    checker
      .getTypeOfSymbol(group)
      .getProperties()
      .map((symbol) => [symbol.name, symbol]),
  ),
)

/**
 * What the comment of a code says.
 *
 * @returns its `explanation`, and an `example` where a formula alone raises it
 */
export function commentOfCode(code) {
  const symbol = codes.get(code)
  const explanation = textOf(symbol, checker)
  if (explanation === '') throw new Error(`the finding ${code} has no comment`)
  return { explanation, example: examplesOf(symbol, checker)[0] }
}
