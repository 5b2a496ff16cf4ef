import { type ColumnPreview, type Finding, parseDefinition } from 'mellow-abacus'
import type { BookHandle } from '../book/use-book'

/** What the text typed so far comes to. */
export interface Draft {
  readonly name: string
  readonly formula: string
  /** Where the formula starts in the text typed. */
  readonly formulaFrom: number
  readonly findings: readonly Finding[]
  readonly preview: ColumnPreview | null
}

/** Takes a text apart as a definition of a column and tries it on the rows; null for an empty one. */
export function readDraft(handle: BookHandle, tableName: string, text: string): Draft | null {
  if (text.trim() === '') return null
  const definition = parseDefinition(text)
  if ('findings' in definition) return { name: '', formula: text, formulaFrom: 0, findings: definition.findings, preview: null }
  const { name, formula, formulaFrom } = definition
  const preview = handle.book.previewColumn(tableName, { name, formula })
  return { name, formula, formulaFrom, findings: preview.findings, preview }
}

/** The formula of a text that is being typed, finished or not, and where it starts. */
export function formulaPart(text: string): { formula: string; from: number } | null {
  const definition = parseDefinition(text)
  return 'findings' in definition ? null : { formula: definition.formula, from: definition.formulaFrom }
}
