import type { CheckedFormula } from '../../formula/index.js'

/** A formula of a view with what checking gave. */
export interface PlacedFormula {
  readonly name: string
  readonly text: string
  readonly kind: 'columns' | 'tallies' | 'lines'
  readonly checked: CheckedFormula
}
