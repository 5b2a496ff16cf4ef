import { isNumbered, placeholder } from './placeholders.js'
import { type JoinedColumn, type Origin, type Relation, type RowSpace, type TableSpace, Term, type TermMarks } from './term.js'

/** Gives what is joined its name, each another in one statement. */
export class Aliases {
  #last = 0

  next(): string {
    return placeholder('j', ++this.#last)
  }
}

/** The most bytes of a name in a statement: PostgreSQL keeps 63. */
const MOST_NAME_BYTES = 60

/** Rows that terms are values of. Equal terms over the same rows are made once. */
abstract class Rows implements RowSpace {
  readonly #terms: Map<string, Term> = new Map()
  readonly #names: Map<string, Term> = new Map()
  #last = 0

  /** The term of these parts and inputs. */
  intern(parts: readonly string[], inputs: readonly Term[], origin: Origin, marks: TermMarks = {}): Term {
    const from = origin.kind === 'joined' ? `${origin.relation.alias}.${origin.column.name}` : origin.kind
    const key = `${from} ${inputs.map(({ id }) => id).join(',')} ${parts.join('\u0001')}`
    let term = this.#terms.get(key)
    if (term === undefined) {
      term = new Term(++this.#last, this, parts, inputs, origin, marks)
      this.#terms.set(key, term)
    }
    return term
  }

  /** A value that is the same for all rows, as a term of these. */
  constant(text: string): Term {
    return this.intern([text], [], { kind: 'made' })
  }

  /** Says what a term is called where it becomes a column, unless something else is called so. */
  suggestName(term: Term, name: string): void {
    const folded = name.toLowerCase()
    if (
      term.name !== null ||
      this.#names.has(folded) ||
      isNumbered(folded) ||
      new TextEncoder().encode(name).length > MOST_NAME_BYTES
    )
      return
    this.#names.set(folded, term)
    term.name = name
  }

  /** What a term is called where it becomes a column: from now on, since whoever asks may keep the name. */
  nameOf(term: Term): string {
    term.name ??= placeholder('v', term.id)
    return term.name
  }
}

/** How a number is read that is stored as one of another type. */
const STORED_NUMBER = /^cast\((s\."(?:[^"]|"")+") as float8\)$/

/** The rows of a table, or the one row that named values and tallies stand in. */
export class TableRows extends Rows implements TableSpace {
  /** What the rows are called in a statement. */
  readonly name: string
  /** What a statement reads them from, under the name `s`; null for the one row that is read from nowhere. */
  readonly source: string | null
  readonly #aliases: Aliases
  readonly #relations: Map<string, Relation> = new Map()

  constructor(name: string, source: string | null, aliases: Aliases) {
    super()
    this.#aliases = aliases
    this.name = name
    this.source = source
  }

  /** A value that is read from the rows. */
  read(text: string): Term {
    return this.intern([text], [], { kind: 'read' })
  }

  /**
   * Something joined to the rows.
   *
   * @param key - the same for what is joined the same way
   */
  join(key: string, make: (alias: string) => Relation): (column: JoinedColumn) => Term {
    let relation = this.#relations.get(key)
    if (relation === undefined) {
      relation = make(this.#aliases.next())
      this.#relations.set(key, relation)
    }
    const found = relation
    return (column) => this.intern([`${found.alias}.${column.name}`], [], { kind: 'joined', relation: found, column })
  }
}

/** A number before it was made one of binary64: it has the same order, and engines sort and compare it faster. */
export function asStored(term: Term): Term {
  const stored = term.origin.kind === 'read' ? STORED_NUMBER.exec(term.text)?.[1] : undefined
  return stored === undefined || !(term.rows instanceof TableRows) ? term : term.rows.read(stored)
}

/** Pairs of a row read and the row that it is read for. */
export class PairRows extends Rows {
  readonly #earlier: Set<Term> = new Set()
  readonly #sides: Map<Term, { readonly side: 'read' | 'own'; readonly term: Term }> = new Map()

  /** A value of the row read, or of the one it is read for. */
  of(side: 'read' | 'own', term: Term): Term {
    if (term.rows === null) return term
    if (term.isConstant) return this.constant(term.text)
    const made = this.intern([`${side} ${term.id}`], [], { kind: 'read' })
    this.#sides.set(made, { side, term })
    return made
  }

  /** A value that was calculated for the row before, by the name it has there. */
  earlier(name: string): Term {
    const made = this.intern([name], [], { kind: 'read' })
    this.#earlier.add(made)
    return made
  }

  isEarlier(term: Term): boolean {
    return this.#earlier.has(term)
  }

  /** What a value that is read stands for. */
  sideOf(term: Term): { readonly side: 'read' | 'own'; readonly term: Term } {
    const found = this.#sides.get(term)
    if (found === undefined) throw new ReferenceError('a term of other pairs of rows')
    return found
  }

  /** All values of one side that were read so far. */
  termsOf(side: 'read' | 'own'): Term[] {
    return [...this.#sides.values()].flatMap((one) => (one.side === side ? [one.term] : []))
  }
}
