/** A file that the rows of a table were read from. */
export interface FileSource<Column> {
  readonly file: string
  /** The options it was read with. */
  readonly options: Readonly<Record<string, unknown>>
  /** The columns that the file had; all source columns where that is not known. */
  readonly columns?: readonly Column[] | undefined
}

/** A table or view of a database, of whose rows the table has a sample. */
export interface DatabaseSource<Column> {
  /** Its address, without user and password. */
  readonly database: string
  /** The names that lead to it: its schema, and its own. */
  readonly relation: readonly string[]
  /** How many rows it had when the sample was taken. */
  readonly rows: number
  readonly columns: readonly AttachedColumn<Column>[]
  /** Lists of its columns, by their names there, of which no two rows have the same. */
  readonly unique: readonly (readonly string[])[]
}

/** A column that has a sample of what a column of a database holds, and what that held over all rows. */
export interface AttachedColumn<Column> {
  readonly column: Column
  /** Its name in the database. */
  readonly of: string
  /** Its type in the database, as the engine writes it. */
  readonly as: string
  /** True where the database lets no row be without a value. */
  readonly isFull: boolean
  /** True where all values were as they mostly are: no infinities, numbers of a usual size. */
  readonly isUsual: boolean
  readonly blanks: number
  readonly zeros: number
  /** Values that do not fit the type of the column. */
  readonly misfits: number
}

/** Where the rows of a table come from. */
export type TableSource<Column> = FileSource<Column> | DatabaseSource<Column>

/** True where a table of so many rows has not all that its source had. */
export function isSample(source: TableSource<unknown> | null, rowCount: number): boolean {
  return source !== null && 'database' in source && rowCount < source.rows
}

/** The same source with its columns told apart otherwise; those that are told apart no more are left out. */
export function mapSource<From, To>(source: TableSource<From>, to: (column: From) => To | undefined): TableSource<To> {
  const known = (column: From): To[] => {
    const found = to(column)
    return found === undefined ? [] : [found]
  }
  if ('database' in source) {
    const columns = source.columns.flatMap((one) => known(one.column).map((column) => ({ ...one, column })))
    return { ...source, columns }
  }
  const { columns, ...rest } = source
  return { ...rest, ...(columns !== undefined && { columns: columns.flatMap(known) }) }
}
