import { isReservedWord } from '../../values/index.js'
import { isClauseWord, readCall } from './calls.js'
import { readCase, readLet } from './constructs.js'
import { closeParenthesis } from './lists.js'
import { readPath } from './paths.js'
import { type FormulaReader, shorten } from './reader.js'
import type { Syntax } from './tree.js'

/** A literal, a name, a call, a construct, or a formula in parentheses. */
export function readPrimary(reader: FormulaReader): Syntax {
  const token = reader.here
  const { from, to } = token
  switch (token.kind) {
    case 'number':
    case 'text':
    case 'date':
    case 'datetime':
      reader.advance()
      return { kind: 'literal', type: token.kind, value: token.value, from, to }
    case 'tag':
      reader.advance()
      return { kind: 'tag', name: token.name, from, to }
    case 'sign':
      return token.sign === '(' ? readGroup(reader) : noValue(reader)
    case 'name':
      return token.quoted ? readName(reader) : readWord(reader, token.word)
    case 'end':
      return noValue(reader)
  }
}

function noValue(reader: FormulaReader): Syntax {
  const token = reader.here
  const { before } = reader
  const place = before === undefined ? 'at the start' : `after "${shorten(reader.text.slice(before.from, before.to))}"`
  reader.report('expected-value', { place, found: reader.found() }, token)
  const missing = reader.missing()
  // A sign that begins nothing is stepped over; one that closes something is left to the one who opened it.
  if (token.kind === 'sign' && ![')', ','].includes(token.sign)) {
    reader.advance()
    return reader.unary()
  }
  return missing
}

function readGroup(reader: FormulaReader): Syntax {
  const open = reader.here
  reader.advance()
  const inner = reader.formula()
  closeParenthesis(reader, open)
  return { kind: 'group', inner, from: open.from, to: reader.end }
}

function readWord(reader: FormulaReader, word: string): Syntax {
  const { from, to } = reader.here
  if (word === 'true' || word === 'false') {
    reader.advanceKeyword()
    return { kind: 'literal', type: 'boolean', value: word === 'true', from, to }
  }
  if (word === 'blank') {
    reader.advanceKeyword()
    return { kind: 'literal', type: 'blank', value: null, from, to }
  }
  if (word === 'case') return readCase(reader)
  if (word === 'let') return readLet(reader)
  if (word === 'every' && beginsName(reader)) {
    reader.advanceKeyword()
    const parts = readPath(reader)
    return { kind: 'name', every: true, parts, from, to: reader.end }
  }
  if (reader.inClauses && isClauseWord(word)) return noValue(reader)
  if (reader.isSign('(', reader.peek(1)) && (!isReservedWord(word) || word === 'if')) return readCall(reader)
  if (isReservedWord(word)) return strayWord(reader, word)
  return readName(reader)
}

/** True when a name stands behind the word here, which can only be if the word is a keyword. */
function beginsName(reader: FormulaReader): boolean {
  const next = reader.peek(1)
  return next.kind === 'name' && (next.quoted || !isReservedWord(next.word))
}

function strayWord(reader: FormulaReader, word: string): Syntax {
  const token = reader.here
  if (['if', 'in', 'is', 'per', 'or', 'and', 'between'].includes(word) && !reader.isAtStart) return noValue(reader)
  if (['then', 'else', 'end', 'when', 'in', 'and', 'or'].includes(word) && reader.depth > 1) return noValue(reader)
  const near = `\`${reader.text.slice(token.from, token.to)}\``
  const fixes = [{ title: `Write ${near}`, edits: [{ from: token.from, to: token.to, insert: near }] }]
  reader.report('reserved-word', { found: `"${word}"`, near }, token, fixes)
  reader.advance()
  return { kind: 'missing', from: token.from, to: token.to }
}

function readName(reader: FormulaReader): Syntax {
  const { from } = reader.here
  const parts = readPath(reader)
  return { kind: 'name', every: false, parts, from, to: reader.end }
}
