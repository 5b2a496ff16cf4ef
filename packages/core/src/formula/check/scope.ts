import type { Unit } from '../../units/index.js'
import type { ValueType } from '../../values/index.js'
import type { Parsed } from '../syntax/index.js'
import type { ColumnId, LinkId } from './ids.js'
import type { ExpressionType } from './types.js'

/** What is known of the values of a name. */
interface Known {
  /** Declared, or given by its formula. */
  readonly unit?: Unit
  /** True where it is hidden from some. */
  readonly isHidden?: boolean
  /** Null for a name without values and without a declared type. */
  readonly type: ValueType | null
  readonly mayBeBlank: boolean
  readonly mayFail: boolean
}

/** A column as a formula sees it. */
export interface ScopeColumn extends Known {
  readonly id: ColumnId
  readonly name: string
  /** True for a parameter that may be of any type. */
  readonly isOpen?: boolean
  /** The texts that it is meant to hold. */
  readonly choices?: readonly string[]
  /** A value of it as text, for editors. */
  readonly sample?: () => string
  /** What else an editor shows of it. */
  readonly detail?: () => { readonly formula?: string; readonly note?: string }
  /** Dividend and divisor of its formula, where that is a division. */
  readonly ratio?: () => { readonly top: string; readonly bottom: string } | null
}

/** A single value as a formula sees it: a named value of the book, or a tally of a table. */
export interface ScopeValue extends Known {
  /** It is kept like a column of a table with one row. */
  readonly id: ColumnId
  readonly name: string
  readonly of: 'value' | 'tally'
  /** The exact decimal that it is written as, where it is a constant number. */
  readonly constant?: () => string | null
}

/** A link of a table to another: each row leads to at most one row there. */
export interface ScopeLink {
  readonly id: LinkId
  readonly name: string
  readonly target: Scope
}

/** A parameter of an own function. */
export interface OwnParameter {
  readonly name: string
  /** The types that it takes, as declared or found; none where that is not known. */
  readonly types: readonly ExpressionType[]
  /** True where the formula has its value at the row of the call; false where only functions of several rows read it. */
  readonly isReadAtRow: boolean
}

/** A function that is defined in the workbook, as a formula that calls it sees it. */
export interface OwnFunction {
  readonly name: string
  readonly parameters: readonly OwnParameter[]
  /** Its formula, in which the parameters are names. */
  readonly body: Parsed
  readonly note: string | null
  /** What it gives; `blank` where that depends on what it is given. */
  readonly result: ExpressionType
  /** False where its formula has mistakes. */
  readonly isSound: boolean
}

/** The names that every formula of the book can use. Lookups go by name in any case. */
export interface BookScope {
  value(name: string): ScopeValue | undefined
  values(): Iterable<ScopeValue>
  /** A function that is defined in the workbook. */
  functionNamed(name: string): OwnFunction | undefined
  functions(): Iterable<OwnFunction>
}

/** The names that a formula of one table can use. */
export interface Scope extends BookScope {
  /** Name of the table, for messages. */
  readonly table: string
  /** Name of the function whose formula this is, which has no table. */
  readonly function?: string
  column(name: string): ScopeColumn | undefined
  /** All column names, for the nearest one. */
  columnNames(): Iterable<string>
  /** Other tables that have a column of this name. */
  tablesWithColumn(name: string): readonly string[]
  /** Columns that carry a tag, in the order of the table, without the one being defined. */
  tagged(tag: string): readonly ScopeColumn[]
  tagNames(): Iterable<string>
  link(name: string): ScopeLink | undefined
  links(): Iterable<ScopeLink>
  tally(name: string): ScopeValue | undefined
  tallies(): Iterable<ScopeValue>
  /**
   * For formulas without a row of their own: the names of the rows that their functions read (a tally), or null where there
   * are none (a named value).
   */
  readonly ownRows?: Scope | null
  /** Any table of the book, this one included. */
  tableNamed(name: string): Scope | undefined
  tableNames(): Iterable<string>
}
