import { FAULT_CODES, type FaultCode, type ValueType } from 'mellow-abacus'
import type { Layout, sql, Term } from '../terms/index.js'

/** The engines that a model can be carried to. */
export const ENGINES = ['postgresql', 'duckdb'] as const

/** An engine that a model can be carried to. */
export type EngineName = (typeof ENGINES)[number]

/** What the engines call the types of values: all of them the same. */
export const TYPES: Readonly<Record<ValueType, string>> = {
  number: 'float8',
  integer: 'bigint',
  text: 'text',
  boolean: 'boolean',
  date: 'date',
  datetime: 'timestamp',
}

/** A function that is made in the schema because a formula needs it. */
export interface Helper {
  /** Others that it calls. */
  readonly needs?: readonly string[]
  /** True for one that is called for rows that hardly ever are. */
  readonly isRare?: boolean
  /**
   * The statement that makes it.
   *
   * @param name - what a function of this schema is called in a statement
   */
  readonly create: (name: (helper: string) => string) => string
}

/** Texts as characters that a reader sees. */
export interface Graphemes {
  length(text: Term): Term
  /** The first characters, or the last; the count is a whole number that is not negative. */
  left(text: Term, count: Term): Term
  right(text: Term, count: Term): Term
  /** So many characters from a place on, from 1. */
  part(text: Term, place: Term, count: Term): Term
  reversed(text: Term): Term
}

/** What a type of an engine holds, as far as a workbook takes it. */
export type StoredKind =
  /** Whole numbers of so many bits. */
  | { readonly kind: 'whole'; readonly bits: number }
  /** Decimals of so many digits, some of them behind the point. */
  | { readonly kind: 'decimal'; readonly digits: number; readonly behind: number }
  /** Decimals of any number of digits. */
  | { readonly kind: 'any-decimal' }
  | { readonly kind: 'binary32' | 'binary64' | 'text' | 'boolean' | 'date' | 'datetime' }
  /** A moment, which is a date-time only in some zone. */
  | { readonly kind: 'moment' }

/** What makes one engine different from another, as far as the compiler knows its language. */
export interface Dialect extends Layout {
  readonly name: EngineName
  /** What the engine is called in messages. */
  readonly title: string
  /** True where an operation whose result is beyond binary64, or too near to zero, ends the statement. */
  readonly failsBeyondRange: boolean
  /** True where it rounds to a number of digits only where that is written out. */
  readonly roundsByConstants: boolean
  /** The most bytes that a name may have. */
  readonly mostNameBytes: number
  /** True where an expression that stands twice in a select is calculated twice. */
  readonly calculatesTwice: boolean
  /** True where a join by keys that may be null (`is not distinct from`) is made with a hash, as one by others is. */
  readonly joinsBlanks: boolean
  /** True where few rows of many are found faster with an index; otherwise all are looked through. */
  readonly hasIndexes: boolean
  /** What a table is made with whose rows are changed in place often. */
  readonly roomForChanges: string
  /** True where the database can note by itself which rows change. */
  readonly hasTriggers: boolean
  /** Begins a transaction whose queries all see the rows as they are when the first of them begins. */
  readonly beginAtOneMoment: string
  /** The same for queries alone, where the engine can be told so. */
  readonly beginReading: string
  readonly types: Readonly<Record<ValueType, string>>
  readonly helpers: Readonly<Record<string, Helper>>
  /** Functions that this engine has no form for, by the reason. */
  readonly lacks: Readonly<Record<string, string>>

  /** What a type of this engine holds, as the engine writes the type; null for what a workbook has nothing like. */
  kindOf(type: string): StoredKind | null
  /** A decimal as the binary64 number that is nearest to it. */
  nearestNumber(decimal: string, digits: number): string
  /** Any value as text, in the order of code points. */
  asText(value: string): string
  /** A truth value that says that a number is no infinity. */
  isFinite(value: Term): Term
  /** A text whose order is that of code points. */
  ordered(text: Term): Term
  /** A date as days since 1970, as binary64. */
  dayNumber(date: Term): Term
  /** A date-time as milliseconds since 1970, as binary64. */
  moment(datetime: Term): Term
  /** The date of whole days since 1970, within the calendar. */
  dateOfDay(day: Term): Term
  /** The date-time of whole milliseconds since 1970, within the calendar. */
  timeOfMoment(ms: Term): Term
  /** A date or date-time so many months later, at the end of the month where it has not as many days. */
  plusMonths(date: Term, months: Term, type: ValueType): Term
  /** A date as ISO text. */
  isoDate(date: Term): Term
  /** Lengths and places in user-perceived characters; null where the engine does not know them. */
  readonly graphemes: Graphemes | null
  /** A quotient that is null where the divisor is zero. */
  unlessByZero(a: Term, b: Term, write: typeof sql): Term
  /** How many bytes a text has. */
  byteLength(text: Term): Term
  /** A text in upper or lower case. */
  cased(to: 'upper' | 'lower', text: Term): Term
  /** A text without some characters at its ends. */
  trimmed(text: Term, characters: string): Term
  /** The same, with one space for each run of them inside. */
  singleSpaces(text: Term, characters: string): Term
  /** A text taken apart at a separator. */
  pieces(text: Term, separator: Term): Term
  /** A piece by its place, from 1 or from the end at −1; null where there is none. */
  pieceAt(pieces: Term, place: Term): Term
  /** One of values that are written out, by its place from 1. */
  elementOf(values: readonly string[], place: Term): Term

  /** The exact sum of whole numbers over rows, rounded once; `more` is what follows the call. */
  wholeSum(value: string, more: string): string
  /** Whole numbers of so many bits are summed faster in the type that they are stored in, whose sum is of a wider one; 0 for none. */
  readonly bitsSummedAsStored: number
  /** The frame that functions are given which look at none, so that the engine goes through rows once for them and for totals. */
  readonly commonFrame: string
  /** The sum of numbers over rows, in whatever order; null where it is beyond range. */
  plainSum(value: string, more: string): string
  /** The first value in an order among rows that meet a condition. */
  firstInOrder(value: string, order: string, condition: string): string
  /** The value at a share of the way through the values in order. */
  quantile(value: string, share: 'lower' | 'upper'): string
  /** The value at a share of the way through the values in order, between the two next to it. */
  percentile(value: string, share: number): string
  /** The commonest value, of equally common ones the smallest. */
  commonest(value: string): string
  /** Texts one after another in an order. */
  joinedTexts(value: string, separator: string, order: string): string
  /** The different values of rows as a list. */
  listOf(value: string): string
  /** How many days of a list, other than those of a weekend, are not after a day. */
  daysUpTo(list: Term, day: Term, weekend: readonly number[]): Term
  /** True where a list has a day. */
  hasDay(list: Term, day: Term): Term
  /** True where a truth value is true in some row. */
  someTrue(value: string): string
}

/** Thrown where a formula has no form in an engine; its message says why. */
export class NoForm extends Error {}

/** Thrown for a formula that has none because something it reads has none. */
export class ReadsNoForm extends NoForm {}

/** The codes of errors in the order in which one hides another. */
export const FAULTS: readonly FaultCode[] = FAULT_CODES

/** The number that stands for an error inside statements: of several in a group the least is the one that shows. */
export function numberOfFault(code: FaultCode): number {
  return FAULTS.indexOf(code) + 1
}
