import { functionNamed, takesClauses } from '../../functions/index.js'
import { closeParenthesis } from './lists.js'
import { readNamePart, readPath } from './paths.js'
import type { FormulaReader } from './reader.js'
import type { Clause, NamePart, OrderKeySyntax, Syntax } from './tree.js'

const clauseWords: ReadonlySet<string> = new Set(['where', 'by', 'order', 'via', 'below', 'every', 'desc'])

/** True for words that are always keywords inside a call that takes clauses. */
export function isClauseWord(word: string): boolean {
  return clauseWords.has(word)
}

/**
 * A call: arguments and clauses. Words of clauses are read as such in every call, since after a complete argument they can be
 * nothing else; whether the function takes them is the checker's to say.
 */
export function readCall(reader: FormulaReader): Syntax {
  const name = readNamePart(reader)
  const open = reader.here
  reader.advance()
  const outer = reader.inClauses
  const record = functionNamed(name.name)
  reader.inClauses ||= record !== undefined && takesClauses(record)
  const args: Syntax[] = []
  const clauses: Clause[] = []
  if (!reader.takeSign(')')) {
    let more = true
    while (more) {
      const clause = readClause(reader, args.length > 0 || reader.inClauses)
      if (clause === null) args.push(readArgument(reader))
      else clauses.push(clause)
      more = reader.takeSign(',') || beginsClause(reader)
    }
    closeParenthesis(reader, open)
  }
  reader.inClauses = outer
  return { kind: 'call', name, args, clauses, from: name.from, to: reader.end }
}

/** A value, with its weight or its possible points where it has them. */
function readArgument(reader: FormulaReader): Syntax {
  const value = reader.formula()
  const isOutOf = reader.isWord('out') && reader.isWord('of', reader.peek(1))
  if (!isOutOf && !reader.isWord('at')) return value
  reader.advanceKeyword()
  if (isOutOf) reader.advanceKeyword()
  const amount = reader.unary()
  return { kind: 'rated', word: isOutOf ? 'out of' : 'at', value, amount, from: value.from, to: amount.to }
}

/** True when a word of a clause stands behind a complete argument. */
function beginsClause(reader: FormulaReader): boolean {
  const { here } = reader
  return here.kind === 'name' && !here.quoted && here.word !== 'every' && isClauseWord(here.word)
}

/** Reads a clause, or null when an argument stands here. */
function readClause(reader: FormulaReader, wordsAreKeywords: boolean): Clause | null {
  const { from } = reader.here
  const next = reader.peek(1)
  if (reader.isWord('blanks') && reader.isWord('as', next)) {
    reader.advanceKeyword()
    reader.advanceKeyword()
    reader.expectWord('zero', 'after "blanks as"')
    return { kind: 'blanks as zero', from, to: reader.end }
  }
  if (!wordsAreKeywords || !(beginsClause(reader) && (reader.inClauses || isUnfinished(reader)))) return null
  if (reader.takeWord('desc')) return { kind: 'desc', from, to: reader.end }
  if (reader.takeWord('where')) return { kind: 'where', condition: reader.formula(), from, to: reader.end }
  if (reader.takeWord('by')) {
    const keys: Syntax[] = []
    do keys.push(reader.formula())
    while (reader.takeSign(','))
    return { kind: 'by', keys, from, to: reader.end }
  }
  if (reader.takeWord('order')) {
    reader.expectWord('by', 'after "order"')
    const keys: OrderKeySyntax[] = []
    do keys.push({ key: reader.formula(), descending: reader.takeWord('desc') })
    while (reader.takeSign(','))
    return { kind: 'order by', keys, from, to: reader.end }
  }
  const kind = reader.isWord('via') ? 'via' : 'below'
  reader.advanceKeyword()
  return { kind, path: readLinkPath(reader, kind), from, to: reader.end }
}

/** True when no comma stands between the word here and the argument before it, so that it cannot begin another argument. */
function isUnfinished(reader: FormulaReader): boolean {
  return !reader.isSign(',', reader.before) && !reader.isSign('(', reader.before)
}

function readLinkPath(reader: FormulaReader, word: string): readonly [NamePart, ...NamePart[]] {
  if (reader.here.kind === 'name') return readPath(reader)
  reader.expected('the name of a link', `after "${word}"`)
  return [{ name: '', quoted: false, from: reader.here.from, to: reader.here.from }]
}
