import { applyEdits, type TextEdit } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnFormula } from './column-model.js'

interface Span {
  readonly from: number
  readonly to: number
}

/** The edits by which a formula names a column as it is called now. */
export function renamingEdits({ checked }: ColumnFormula, column: ColumnId, name: string): TextEdit[] {
  const references = checked?.references.filter((one) => one.column === column) ?? []
  return references.map(({ from, to }) => ({ from, to, insert: printName(name) }))
}

/** The edits by which a formula names a table as it is called now. */
export function tableRenamingEdits({ checked }: ColumnFormula, former: string, name: string): TextEdit[] {
  const mentions = checked?.tables.filter((one) => foldName(one.table) === foldName(former)) ?? []
  return mentions.map(({ from, to }) => ({ from, to, insert: printName(name) }))
}

/** The edits by which a formula calls an own function as it is called now. */
export function functionRenamingEdits({ checked }: ColumnFormula, former: string, name: string): TextEdit[] {
  const calls = checked?.functions.filter((one) => foldName(one.name) === foldName(former)) ?? []
  return calls.map(({ from, to }) => ({ from, to, insert: name }))
}

/**
 * Rewrites names in the text of a formula. The places that checking found move along, so that a further operation of the same
 * call finds its names where they stand now.
 */
export function rewriteFormula(formula: ColumnFormula, edits: readonly TextEdit[]): void {
  if (edits.length === 0) return
  const { checked } = formula
  formula.text = applyEdits(formula.text, edits)
  if (checked === null) return
  const moved = <Place extends Span>(places: readonly Place[]): Place[] =>
    places.map((place) => ({ ...place, ...shifted(place, edits) }))
  const { references, tables, functions } = checked
  formula.checked = { ...checked, references: moved(references), tables: moved(tables), functions: moved(functions) }
}

function shifted({ from, to }: Span, edits: readonly TextEdit[]): Span {
  const growth = (edit: TextEdit): number => edit.insert.length - (edit.to - edit.from)
  const before = edits.filter((edit) => edit.to <= from && edit.from < from).reduce((sum, edit) => sum + growth(edit), 0)
  const own = edits.find((edit) => edit.from === from && edit.to === to)
  return { from: from + before, to: to + before + (own === undefined ? 0 : growth(own)) }
}
