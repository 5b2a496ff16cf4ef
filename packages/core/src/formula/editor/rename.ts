import type { TextEdit } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnId, Scope } from '../check/index.js'
import { childrenOf, parseFormula, type Syntax } from '../syntax/index.js'
import { tokenKinds } from './token-kinds.js'

/** What renaming the name at a place would do: edits of this formula, or the column or function that is to be renamed in the book. */
export type Renaming =
  | { readonly kind: 'step'; readonly edits: readonly TextEdit[] }
  | { readonly kind: 'column'; readonly column: ColumnId; readonly name: string }
  | { readonly kind: 'function'; readonly name: string }

/** Renames the named step at a place within its formula; a column is for the book to rename, in every formula. */
export function renameAt(text: string, offset: number, to: string, scope: Scope): Renaming | null {
  const found = tokenKinds(text, scope).find(
    (token) => token.from <= offset && offset <= token.to && ['step', 'column', 'function'].includes(token.kind),
  )
  if (found?.column !== undefined) return { kind: 'column', column: found.column.id, name: found.column.name }
  if (found === undefined) return null
  if (found.kind === 'function') {
    const own = scope.functionNamed(text.slice(found.from, found.to))
    return own === undefined ? null : { kind: 'function', name: own.name }
  }
  const spans = spansOfStep(parseFormula(text).tree, found.from)
  return { kind: 'step', edits: spans.map((span) => ({ from: span.from, to: span.to, insert: printName(to) })) }
}

/** Where the step that stands at a place is named and read. */
function spansOfStep(tree: Syntax, at: number): { from: number; to: number }[] {
  let result: { from: number; to: number }[] = []
  const walk = (node: Syntax, inSight: readonly { folded: string; spans: { from: number; to: number }[] }[]): void => {
    if (node.kind === 'name') {
      const isThis = node.parts.length === 2 && foldName(node.parts[0].name) === 'this'
      const part = node.parts.length === 1 || isThis ? node.parts.at(-1) : undefined
      const step = part === undefined ? undefined : inSight.findLast((one) => one.folded === foldName(part.name))
      if (step !== undefined && part !== undefined) step.spans.push({ from: part.from, to: part.to })
      return
    }
    if (node.kind !== 'let') {
      for (const child of childrenOf(node)) walk(child, inSight)
      return
    }
    const step = { folded: foldName(node.name.name), spans: [{ from: node.name.from, to: node.name.to }] }
    walk(node.bound, inSight)
    walk(node.body, [...inSight, step])
    if (step.spans.some((span) => span.from === at)) result = step.spans
  }
  walk(tree, [])
  return result
}
