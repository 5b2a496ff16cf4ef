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
    parts.push(readNamePart(reader))
  }
  return parts
}

/** One name, which stands here. */
export function readNamePart(reader: FormulaReader): NamePart {
  const token = reader.here
  reader.skip()
  const isName = token.kind === 'name'
  return { name: isName ? token.name : '', quoted: isName && token.quoted, from: token.from, to: token.to }
}
