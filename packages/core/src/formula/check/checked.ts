import type { Finding, Fix } from '../../findings/index.js'
import type { FunctionRecord } from '../../functions/index.js'
import type { Scalar } from '../../values/index.js'
import type { ColumnId } from './scope.js'
import type { ExpressionType } from './types.js'

/** Operators that the checker has chosen by type; each is one kernel (plan/kernels). */
export type Operator =
  | 'negate'
  | 'not'
  | 'is-blank'
  | 'is-error'
  | 'day-to-time'
  | 'add'
  | 'subtract'
  | 'multiply'
  | 'divide'
  | 'per'
  | 'power'
  | 'add-days'
  | 'subtract-days'
  | 'add-time'
  | 'add-to-time'
  | 'subtract-time'
  | 'time-difference'
  | 'equal'
  | 'unequal'
  | 'less'
  | 'less-equal'
  | 'greater'
  | 'greater-equal'
  | 'member'
  | 'and'
  | 'or'

interface Facts {
  readonly type: ExpressionType
  /** False promises that no row gives blank. */
  readonly mayBeBlank: boolean
  /** False promises that no row gives an error. */
  readonly mayFail: boolean
  readonly from: number
  readonly to: number
}

/** One step of a chain, left to right; `type` is what it gives. */
export interface CheckedLink extends Facts {
  readonly operator: Operator
  readonly operand: Checked
  readonly watch?: number
}

/** A branch: the first whose condition is true is taken. */
export interface CheckedBranch {
  readonly condition: Checked
  readonly value: Checked
}

/**
 * A typed expression: names resolved to ids, operators chosen, sugar gone (`between`, `in`, `case x`, `&` and `??` are
 * told in terms of the rest).
 */
export type Checked = Facts &
  (
    | { readonly kind: 'constant'; readonly value: Scalar | null }
    | { readonly kind: 'column'; readonly column: ColumnId }
    /** Reads a named step. */
    | { readonly kind: 'step'; readonly step: number }
    | { readonly kind: 'let'; readonly step: number; readonly bound: Checked; readonly body: Checked }
    | { readonly kind: 'apply'; readonly operator: Operator; readonly args: readonly Checked[] }
    | { readonly kind: 'chain'; readonly first: Checked; readonly rest: readonly CheckedLink[] }
    | { readonly kind: 'call'; readonly record: FunctionRecord; readonly args: readonly Checked[] }
    | {
        readonly kind: 'choose'
        readonly branches: readonly CheckedBranch[]
        readonly otherwise: Checked | null
        readonly watch?: number
      }
    | { readonly kind: 'coalesce'; readonly operands: readonly Checked[] }
    | { readonly kind: 'if-error'; readonly value: Checked; readonly otherwise: Checked }
  )

/**
 * A place whose rows are watched: each evaluation marks the rows where it happened, so that the finding has its row count
 * at any time and goes away with its last row.
 */
export interface Watch {
  readonly code: 'blank-falls-through' | 'division-by-zero'
  readonly subject: string
  readonly from: number
  readonly to: number
  readonly fixes: readonly Fix[]
}

/** Most places of one formula that are watched: a mark is one bit of a byte a row. */
export const MOST_WATCHES = 8

/** A reference of a formula's text to a column, so that renaming can rewrite it. */
export interface Reference {
  readonly column: ColumnId
  readonly from: number
  readonly to: number
}

/** What checking gives; `expression` can be run only when no finding is an error. */
export interface CheckedFormula {
  readonly expression: Checked
  readonly findings: readonly Finding[]
  readonly watches: readonly Watch[]
  readonly references: readonly Reference[]
}
