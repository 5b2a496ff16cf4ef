import { isReservedWord } from '../../values/index.js'
import { readNamePart } from './paths.js'
import type { FormulaReader } from './reader.js'
import type { CaseBranch, Syntax } from './tree.js'

/** `case [subject] when … then … [else …] end`. */
export function readCase(reader: FormulaReader): Syntax {
  const { from } = reader.here
  reader.advanceKeyword()
  const subject = reader.isWord('when') ? null : reader.formula()
  const branches: CaseBranch[] = []
  do {
    const when = reader.here.from
    reader.expectWord('when', branches.length === 0 ? 'in "case"' : 'here')
    const condition = reader.formula()
    reader.expectWord('then', 'after the condition')
    const value = reader.formula()
    branches.push({ condition, value, from: when, to: value.to })
  } while (reader.isWord('when'))
  const elseFrom = reader.isWord('else') ? reader.here.from : null
  const otherwise = reader.takeWord('else') ? reader.formula() : null
  reader.expectWord('end', 'to close "case"')
  return { kind: 'case', subject, branches, otherwise, elseFrom, from, to: reader.end }
}

/** `let name = formula in formula`. */
export function readLet(reader: FormulaReader): Syntax {
  const { from } = reader.here
  reader.advanceKeyword()
  const { here } = reader
  const isName = here.kind === 'name' && (here.quoted || !isReservedWord(here.word))
  if (!isName) reader.expected('a name', 'after "let"')
  const name = isName ? readNamePart(reader) : { name: '', quoted: false, from: here.from, to: here.from }
  if (!reader.takeSign('=')) reader.expected('"="', 'after the name of the step')
  const bound = reader.formula(true)
  reader.expectWord('in', 'after the formula of the step')
  const body = reader.formula()
  return { kind: 'let', name, bound, body, from, to: reader.end }
}
