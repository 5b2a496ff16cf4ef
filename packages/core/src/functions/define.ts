import type { Cell, Selection, Vector } from '../columns/index.js'
import type { ExactDecimal, ExactParts, FaultCode, Scalar, Surroundings, ValueType } from '../values/index.js'
import { type Parameter, parseSignature } from './signature.js'

/** Families in the order the reference lists them. */
export const FUNCTION_FAMILIES = ['number', 'text', 'logic', 'date', 'across', 'aggregate', 'ordered'] as const

/** A family of functions. */
export type FunctionFamily = (typeof FUNCTION_FAMILIES)[number]

/** What tells the rows and calls of a formula apart, for functions that must differ between them. */
interface CallPlace {
  /** Id of the column being calculated. */
  readonly column: number
  /** Which of the formula's calls of such functions this is, from 0. */
  readonly ordinal: number
  /** Id of a row of the block. */
  rowIdOf(row: number): number
}

/** One call of a kernel: argument vectors of one block in, values and status of the selected rows out. */
export interface KernelCall {
  readonly args: readonly Vector[]
  /** Type of each argument, which tells a number from a date. */
  readonly types: readonly ValueType[]
  readonly out: Vector
  readonly selection: Selection
  readonly surroundings: Surroundings
  readonly place: CallPlace
  /** True when blank arguments count as zero. */
  readonly blanksAsZero: boolean
  /** Weights or possible points of the arguments, exactly as written; empty for functions that take none. */
  readonly amounts: readonly ExactDecimal[]
  /** Epoch days of the holidays given, ascending; undefined when none were. */
  readonly holidays?: Int32Array
}

/**
 * What is told in other terms than a kernel: `if` and the two that look at the next operand only when needed, which the evaluator
 * does itself, and `convert`, which is arithmetic once the units are known.
 */
type LazyForm = 'if' | 'coalesce' | 'if_error' | 'convert'

/** A text argument that is read by rules of its own: when it is written out, the checker can say that it is no good. */
export interface TextRule {
  readonly argument: number
  /** What is expected, as a message says it. */
  readonly expects: string
  /** True when calls with this text do not fail because of it; `types` are those of all arguments. */
  readonly isUsable: (text: string, types: readonly string[]) => boolean
  /** False while what reads such texts is not loaded. */
  readonly isReady?: () => boolean
  /** The error of every row otherwise. */
  readonly fault: FaultCode
  /** All usable texts, where they can be listed. */
  readonly choices?: readonly string[]
  /** True when it must be written out. */
  readonly isConstant?: boolean
}

/**
 * What the unit of a result is: that of the first argument, with the other numbers `alike` or not; none, for counts, shares and
 * places; or what arithmetic makes of it. `number` is the one number that it always gives; `takes` names the unit that an argument, the first unless said, must be given in.
 */
export type UnitRule =
  | 'same'
  | 'alike'
  | 'plain'
  | 'ratio'
  | 'difference'
  | 'square'
  | 'root'
  | 'power'
  | 'slope'
  | 'area'
  | 'coefficient'
  | 'elapsed'
  | { readonly number: number }
  | {
      readonly takes?: 'rad' | 'deg' | 'd' | 'mo' | 'a'
      readonly argument?: number
      readonly gives?: 'rad' | 'deg' | 'd' | 'mo' | 'a'
    }

/** A word or words that begin a clause. */
type ClauseWord = 'where' | 'by' | 'order by' | 'via' | 'below' | 'desc' | 'blanks as zero'

interface Signed {
  readonly name: string
  readonly family: FunctionFamily
  /**
   * `(value: number, digits?: number, ...more: any) -> number`. The type `T` stands for one type shared by all its uses,
   * `ordered` for one such type that has an order (all but boolean), `rows` for `every table.column [where …]`; the result
   * `same` is the type of the first argument.
   */
  readonly signature: string
  /** The unit of its result; without it nothing is known of that, as of a text. */
  readonly unit?: UnitRule
  readonly errors: readonly FaultCode[]
  /** Names it went by before, which are still understood. */
  readonly formerNames?: readonly string[]
  /** True when the result depends on the surroundings and so is not folded. */
  readonly movesWithClock?: boolean
  /** The argument that is a text with a meaning of its own, such as a pattern or a unit. */
  readonly textRule?: TextRule
  /** The type of the result, where the text that has rules decides it. */
  readonly resultType?: (text: string) => ValueType
  /** Clauses that may stand in a call. */
  readonly clauses?: readonly ClauseWord[]
  /** The operator that does the same for two arguments of these types, if there is one, and whether they change places. */
  readonly operator?: (types: readonly ValueType[]) => { readonly name: 'subtract'; readonly swapped: boolean } | null
  /** How each argument is rated: by a weight (`at`) or by its possible points (`out of`). */
  readonly rating?: 'at' | 'out of'
}

interface Computed {
  /** Pure; reads its arguments, writes only `out`, allocates nothing per row but texts. */
  readonly kernel: (call: KernelCall) => void
  readonly form?: never
}

interface Lazy {
  readonly form: LazyForm
  readonly kernel?: never
}

/** The rows that a function of several rows is computed from: for each argument its cells, in the order of the rows. */
interface GatheredRows {
  readonly args: readonly (readonly Cell[])[]
  readonly types: readonly ValueType[]
  readonly count: number
}

interface OverRows {
  readonly clauses: readonly ClauseWord[]
  readonly kernel?: never
}

/** Values in ascending order, blanks left out. */
export interface SortedView {
  readonly size: number
  /** How many different ones there are. */
  readonly distinct: number
  /** The value at a place, from 0. */
  at(place: number): Scalar
  /** The commonest, of equally common ones the smallest; null where there are none. */
  commonest(): Scalar | null
}

/** Exact sums over the values of rows, blanks left out. */
export interface Moments {
  readonly count: number
  readonly sum: ExactParts
  readonly squares: ExactParts
}

/** A function that makes one value of rows. */
interface Aggregate extends OverRows {
  readonly form: 'aggregate'
  /** Computes it; errors among the arguments have been dealt with unless `minds` says otherwise. */
  readonly gather: (rows: GatheredRows) => Cell
  /**
   * The same from the values in order, for functions that need no more, so that a large group need not be gathered again.
   * `second` is the second argument, where there is one; it is then the same for all rows.
   */
  readonly ofSorted?: (values: SortedView, second: Cell) => Cell
  /** The same from exact sums, for functions that need no more. */
  readonly ofMoments?: (moments: Moments) => Cell
  /** For functions that are the value of one row that has one: at which end of the order it stands. */
  readonly end?: 'first' | 'last'
  /** For functions that ask whether a condition is true on any or all rows: the value that decides it. */
  readonly deciding?: boolean
  /** True for functions that look at errors themselves, because not every value of the rows counts. */
  readonly mindsErrors?: boolean
  /** True when the result is the value of the row itself per what is gathered. */
  readonly isShare?: boolean
}

/** A function that looks at neighbours in an order, and gives each row of a group its result. */
interface Ordered extends OverRows {
  readonly form: 'ordered'
  readonly inOrder: (rows: GatheredRows) => readonly Cell[]
  /**
   * How many rows around a row its result can depend on, by the number of rows asked for; without it, on all before it.
   */
  readonly reach?: (count: number) => number
  /** The argument whose values are the order, where it is not the row order or `order by`. */
  readonly orderArgument?: number
}

/** All that is known about one function but for its guide: checker, planner and completion read it. */
export type FunctionRecord = Signed & { readonly parameters: readonly Parameter[]; readonly result: string } & (
    | Computed
    | Lazy
    | Aggregate
    | Ordered
  )

/** Makes the record of a function. */
export function defineFunction(described: Signed & (Computed | Lazy | Aggregate | Ordered)): FunctionRecord {
  return { ...described, ...parseSignature(described.signature) }
}

/** True for functions inside whose calls the words of clauses are always keywords. */
export function takesClauses(record: FunctionRecord): boolean {
  return isOverRows(record) || record.parameters.some((parameter) => parameter.types.includes('rows'))
}

/** True for functions that read more rows than their own. */
export function isOverRows(record: FunctionRecord): record is FunctionRecord & (Aggregate | Ordered) {
  return record.form === 'aggregate' || record.form === 'ordered'
}
