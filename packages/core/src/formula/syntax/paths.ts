import { isReservedWord } from '../../values/index.js'
import type { FormulaReader } from './reader.js'
import type { NamePart } from './tree.js'

/** Names joined by dots; a name stands here. */
export function readPath(reader: FormulaReader): readonly [NamePart, ...NamePart[]] {
  const parts: [NamePart, ...NamePart[]] = [readNamePart(reader)]
  while (reader.takeSign('.')) {
    if (reader.here.kind !== 'name') {
      reader.report('expected-value', { place: 'after "."', found: reader.found() }, reader.here)
      break
    }
    reportReserved(reader)
    parts.push(readNamePart(reader))
  }
  return parts
}

/** A word of the language is no name, behind a dot either. */
function reportReserved(reader: FormulaReader): void {
  const { here } = reader
  if (here.kind !== 'name' || here.quoted || !isReservedWord(here.word)) return
  const near = `\`${here.name}\``
  const fixes = [{ title: `Write ${near}`, edits: [{ from: here.from, to: here.to, insert: near }] }]
  reader.report('reserved-word', { found: `"${here.word}"`, near }, here, fixes)
}

/** One name, which stands here. */
export function readNamePart(reader: FormulaReader): NamePart {
  const token = reader.here
  reader.advance()
  const isName = token.kind === 'name'
  return { name: isName ? token.name : '', quoted: isName && token.quoted, from: token.from, to: token.to }
}
