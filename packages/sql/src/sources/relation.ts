import type { DatabaseSource } from 'mellow-abacus/model'
import type { Dialect } from '../dialects/index.js'

/** A column of a table or view of a database. */
export interface RelationColumn {
  readonly name: string
  /** Its type, as the engine writes it. */
  readonly type: string
  /** True where the database lets no row be without a value. */
  readonly isFull: boolean
  /** True where all of its values are as they mostly are, so that it is read without a guard; false where that is not known. */
  readonly isUsual: boolean
}

/** What is known of a table or view of a database. */
export interface RelationFacts {
  /** The names that lead to it: its schema, and its own. */
  readonly path: readonly string[]
  readonly columns: readonly RelationColumn[]
  /** Lists of columns of which no two rows have the same; the primary key first. */
  readonly unique: readonly (readonly string[])[]
  /** How many rows there are; null where they were not counted. */
  readonly rows: number | null
}

/** The same as a workbook remembers it. */
export function attachedRelation<Column>({ relation, columns, unique, rows }: DatabaseSource<Column>): RelationFacts {
  return {
    path: relation,
    columns: columns.map(({ of, as, isFull, isUsual }) => ({ name: of, type: as, isFull, isUsual })),
    unique,
    rows,
  }
}

/** A relation as it is named in a statement. */
export function relationText({ quote }: Pick<Dialect, 'quote'>, path: readonly string[]): string {
  return path.map(quote).join('.')
}
