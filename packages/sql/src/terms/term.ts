/** Where the value of a term comes from, which decides where it can be written. */
export type Origin =
  /** Read from the rows themselves. */
  | { readonly kind: 'read' }
  /** Made of others in the same row. */
  | { readonly kind: 'made' }
  /** A part of an expression, which is none by itself: a list, or an order. */
  | { readonly kind: 'fragment' }
  /** A window function: it can stand in a list of results only, and in no other window function. */
  | { readonly kind: 'window' }
  /** A column of something joined to the rows. */
  | { readonly kind: 'joined'; readonly relation: Relation; readonly column: JoinedColumn }

/** What is said of a term when it is made. */
export interface TermMarks {
  readonly isRisky?: boolean
  readonly weight?: number
}

/**
 * An SQL expression over some rows, as a node of a graph: equal expressions over the same rows are one term, so that whoever
 * writes the statement knows what is read more than once. Between its parts stand its inputs.
 */
export class Term {
  readonly id: number
  /** The rows it is a value of; null for what is the same everywhere. */
  readonly rows: RowSpace | null
  readonly parts: readonly string[]
  readonly inputs: readonly Term[]
  readonly origin: Origin
  /** How many times other rows have to be gathered before it can be calculated. */
  readonly rank: number
  /** True where it may end the statement for values that whoever reads it keeps from it; so it is calculated where it is read. */
  readonly isRisky: boolean
  /** What calculating it costs besides its inputs, in operators. */
  readonly weight: number
  /** What it is called where it becomes a column of a statement. */
  name: string | null = null

  constructor(
    id: number,
    rows: RowSpace | null,
    parts: readonly string[],
    inputs: readonly Term[],
    origin: Origin,
    marks: TermMarks = {},
  ) {
    this.id = id
    this.rows = rows
    this.parts = parts
    this.inputs = inputs
    this.origin = origin
    // What is calculated only where a condition holds is kept from the rest.
    this.weight = marks.weight ?? 1
    this.isRisky = marks.isRisky === true || (inputs.some((input) => input.isRisky) && !/^\(?case /.test(parts[0] as string))
    const own = origin.kind === 'joined' ? origin.relation.rank : 0
    this.rank = inputs.reduce((most, input) => Math.max(most, input.rank), own)
  }

  /** True for what is the same in every row, which needs no row to be calculated. */
  get isConstant(): boolean {
    return this.origin.kind === 'made' && this.inputs.length === 0
  }

  /** True for what can be a column: a part of an expression is none, and what is risky is calculated where it is read. */
  get isColumn(): boolean {
    return this.origin.kind !== 'fragment' && !this.isRisky
  }

  /** The text of a term that has no inputs. */
  get text(): string {
    return this.parts[0] as string
  }
}

/** Rows that terms are values of, as the terms know them. */
export interface RowSpace {
  /** The term of these parts and inputs: equal ones are one. */
  intern(parts: readonly string[], inputs: readonly Term[], origin: Origin, marks?: TermMarks): Term
  /** What a term is called where it becomes a column. */
  nameOf(term: Term): string
}

/** The rows of a table. */
export interface TableSpace extends RowSpace {
  /** What the rows are called in a statement. */
  readonly name: string
  /** What a statement reads them from, under the name `s`; null for the one row that is read from nowhere. */
  readonly source: string | null
}

/** How the parts of a join are written while a statement is: each is a column or a table of the statement by then. */
export interface JoinPlaces {
  quote(name: string): string
  /** A term of the rows that are joined to. */
  own(term: Term): string
  /** A term of the rows read, of those called by this name in the join. */
  read(term: Term, as?: string): string
  /** What the rows of a table are in the statement. */
  from(rows: TableSpace): string
  /** Selects from rows of the join. */
  select(targets: readonly Term[], from: string, read: (term: Term) => string | null): string
}

/** Terms that are read of some rows. */
interface Reads {
  readonly rows: TableSpace
  readonly terms: readonly Term[]
}

/** A column of what is joined, as it is written in there. */
export interface JoinedColumn {
  readonly name: string
  readonly reads: readonly Reads[]
  write(places: JoinPlaces): string
}

/** Something that is joined to rows, once for each: the row a link leads to, or what other rows come to. */
export interface Relation {
  /** What it is called in the statement. */
  readonly alias: string
  readonly rank: number
  /** The terms of the rows joined to that it needs. */
  readonly own: readonly Term[]
  readonly reads: readonly Reads[]
  /** Writes the join: `left join (…) as alias on …`. */
  write(places: JoinPlaces, columns: readonly JoinedColumn[]): string
}
