import type { Finding, FindingCode, Fix } from '../../findings/index.js'
import type { FunctionRecord } from '../../functions/index.js'
import type { Unit } from '../../units/index.js'
import type { ExactDecimal, Scalar } from '../../values/index.js'
import type { ColumnUses } from './column-use.js'
import type { ColumnId, LinkId } from './ids.js'
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

/** Which rows an aggregate reads. */
export interface RowsRead {
  readonly table: string
  /** All of the own table, all of another one, those linked to the row, or those below the row in its own table. */
  readonly which: 'own' | 'every' | 'linked' | 'below'
  /** Links from the rows read to the row they belong to. */
  readonly links: readonly LinkId[]
}

/** A key of an order. */
export interface CheckedOrderKey {
  readonly key: Checked
  readonly descending: boolean
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
    /** A named step and what reads it; without a name for a value that is only computed once. */
    | {
        readonly kind: 'let'
        readonly step: number
        readonly name: string | null
        readonly bound: Checked
        readonly body: Checked
      }
    | { readonly kind: 'apply'; readonly operator: Operator; readonly args: readonly Checked[] }
    | { readonly kind: 'chain'; readonly first: Checked; readonly rest: readonly CheckedLink[] }
    | {
        readonly kind: 'call'
        readonly record: FunctionRecord
        readonly args: readonly Checked[]
        readonly blanksAsZero: boolean
        readonly amounts: readonly ExactDecimal[]
        /** Named values that amounts were taken from: where one changes, the formula is another. */
        readonly amountSources?: readonly ColumnId[]
        /** The holidays given, for functions that count working days. */
        readonly holidays?: CheckedRows
        readonly watch?: number
      }
    | {
        readonly kind: 'choose'
        readonly branches: readonly CheckedBranch[]
        readonly otherwise: Checked | null
        readonly watch?: number
      }
    | { readonly kind: 'coalesce'; readonly operands: readonly Checked[] }
    | { readonly kind: 'if-error'; readonly value: Checked; readonly otherwise: Checked }
    /** Reads at the row that links lead to. */
    | { readonly kind: 'follow'; readonly links: readonly LinkId[]; readonly read: Checked }
    /** A named value, or a tally over its whole table. */
    | { readonly kind: 'single'; readonly column: ColumnId; readonly of: 'value' | 'tally' }
    /** Reads at the row that the function of several rows is computed for. */
    | { readonly kind: 'outer'; readonly inner: Checked }
    | {
        readonly kind: 'over-rows'
        readonly record: FunctionRecord
        readonly rows: RowsRead
        readonly args: readonly Checked[]
        readonly where: Checked | null
        readonly by: readonly Checked[]
        readonly order: readonly CheckedOrderKey[]
        readonly descending: boolean
      }
  )

/** The values of a column over the rows of a table, for arguments that take rows. */
export interface CheckedRows {
  readonly rows: RowsRead
  readonly read: Checked
  readonly where: Checked | null
}

/**
 * A place whose rows are watched: each evaluation marks the rows where it happened, so that the finding has its row count
 * at any time and goes away with its last row.
 */
export interface Watch {
  readonly code: WatchCode
  readonly subject: string
  readonly from: number
  readonly to: number
  readonly fixes: readonly Fix[]
}

/** What a watched place can show. */
export type WatchCode = Extract<
  FindingCode,
  'blank-falls-through' | 'division-by-zero' | 'negative-interval' | 'angle-beyond-turn'
>

/** Most places of one formula that are watched: a mark is one bit of a byte a row. */
export const MOST_WATCHES = 8

/** A reference of a formula's text to a column, so that renaming can rewrite it. */
export interface Reference {
  readonly column: ColumnId
  readonly from: number
  readonly to: number
}

/** A call of an own function: which part of the formula as it is written out is the call, and which is the formula of the function. */
export interface OwnCall {
  readonly name: string
  readonly from: number
  readonly to: number
  readonly body: { readonly from: number; readonly to: number }
  /** What it is given, in the order of the parameters. */
  readonly given: readonly { readonly parameter: string; readonly from: number; readonly to: number }[]
}

/** What checking gives; `expression` can be run only when no finding is an error. */
export interface CheckedFormula {
  readonly expression: Checked
  /** The unit of what it gives; null where nothing is known. */
  readonly unit: Unit | null
  readonly findings: readonly Finding[]
  readonly watches: readonly Watch[]
  readonly references: readonly Reference[]
  readonly uses: ColumnUses
  /** The formula, and behind it the formulas of own functions that it calls: what the places of the expression are in. */
  readonly text: string
  /** The calls of own functions, also those inside such functions. */
  readonly calls: readonly OwnCall[]
  /** Places where an own function is named. */
  readonly functions: readonly { readonly name: string; readonly from: number; readonly to: number }[]
  /** Places where a table is named. */
  readonly tables: readonly { readonly table: string; readonly from: number; readonly to: number }[]
}
