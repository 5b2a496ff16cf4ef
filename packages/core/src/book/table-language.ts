import type { Finding, TextEdit } from '../findings/index.js'
import {
  type Completions,
  checkFormula,
  completeFormula,
  type Explanation,
  explainFormula,
  formatFormula,
  type Hover,
  hoverAt,
  parseFormula,
  renameAt,
  type Scope,
  type SignatureHelp,
  signatureAt,
  type TokenOfKind,
  tokenKinds,
} from '../formula/index.js'
import type { Model, TableModel } from './model/index.js'
import { scopeOf } from './model/index.js'
import type { RenameColumn, RenameFunction } from './schemas/index.js'

/** What renaming a name in a formula asks for: edits of the formula itself, or an operation of the book. */
type FormulaRenaming = { readonly edits: readonly TextEdit[] } | { readonly operation: RenameColumn | RenameFunction }

/** What editors ask about formulas of one table. Places are UTF-16 units; formulas may be unfinished. */
export interface TableLanguage {
  /** What is wrong or worth saying about a formula, without defining anything. */
  findings(formula: string): readonly Finding[]
  /** Words to offer at a place. */
  complete(formula: string, offset: number): Completions
  /** What there is to say about the word at a place. */
  hover(formula: string, offset: number): Hover | null
  /** How the function around a place is called. */
  signature(formula: string, offset: number): SignatureHelp | null
  /** The formula with even spacing; one that cannot be read as it is. */
  format(formula: string): string
  /** What gives the name at a place another name; null where none stands. */
  rename(formula: string, offset: number, to: string): FormulaRenaming | null
  /** What each piece is, for colours. */
  tokens(formula: string): readonly TokenOfKind[]
  /** The formula in plain English. */
  explain(formula: string): Explanation
}

/** Answers for editors, in the names the table has at the moment of each call. */
export function tableLanguage(model: Model, table: TableModel): TableLanguage {
  const scope = (): Scope => scopeOf(model, table)
  return {
    findings: (formula) => checkFormula(parseFormula(formula), scope()).findings.map((one) => ({ ...one, table: table.name })),
    complete: (formula, offset) => completeFormula(formula, offset, scope()),
    hover: (formula, offset) => hoverAt(formula, offset, scope()),
    signature: (formula, offset) => signatureAt(formula, offset, scope()),
    format: formatFormula,
    rename: (formula, offset, to) => {
      const renaming = renameAt(formula, offset, to, scope())
      if (renaming === null || renaming.kind === 'step') return renaming
      if (renaming.kind === 'function') return { operation: { op: 'rename-function', name: renaming.name, to } }
      const owner = model.columnOf(renaming.column)
      return { operation: { op: 'rename-column', table: owner.table.name, column: owner.column.name, to } }
    },
    tokens: (formula) => tokenKinds(formula, scope()),
    explain: (formula) => explainFormula(formula, scope()),
  }
}
