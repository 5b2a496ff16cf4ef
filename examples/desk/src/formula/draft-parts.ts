import { parseDefinition } from 'mellow-abacus'
import type { Draft } from './draft'

/** What the text of a draft says. */
export interface DraftParts {
  readonly name: string
  readonly formula: string
  /** Where the formula begins in the text. */
  readonly from: number
}

/** Takes a draft apart; null where it does not say a name and a formula yet. */
export function draftParts({ column, text }: Pick<Draft, 'column' | 'text'>): DraftParts | null {
  if (column !== null) return { name: column, formula: text, from: 0 }
  const definition = parseDefinition(text)
  if ('findings' in definition) return null
  return { name: definition.name, formula: definition.formula, from: definition.formulaFrom }
}
