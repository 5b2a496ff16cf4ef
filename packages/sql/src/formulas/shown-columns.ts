import type { ValueType } from 'mellow-abacus'
import type { DefinedColumn } from 'mellow-abacus/model'
import { type Dialect, FAULTS } from '../dialects/index.js'
import { sql, type Term } from '../terms/index.js'
import type { Value } from '../values/index.js'
import type { TableTerms } from './model-terms.js'

/** A column of a view. */
export interface ShownColumn {
  readonly name: string
  readonly term: Term
}

/** The columns of a view that show a value: the value, and the code of its error where it may have one. */
export function shownColumns(rows: TableTerms, { id, name, type }: DefinedColumn, { value, fault }: Value): ShownColumn[] {
  const own = rows.source.columns.get(id)?.shown ?? null
  const term = own === null ? shownAs(rows.model.writing.dialect, value, type) : rows.rows.read(own)
  const shown = { name, term: rows.model.inRows(term, rows.rows) }
  if (fault === null) return [shown]
  const names = FAULTS.map((code, index) => `when ${index + 1} then '${code}'`).join(' ')
  return [shown, { name: `${name}!fault`, term: rows.model.inRows(sql`case ${fault} ${names} end`, rows.rows) }]
}

/** A value as a view shows it: whole numbers of integer columns as such. */
function shownAs(dialect: Dialect, value: Term, type: ValueType | null): Term {
  if (type !== 'integer') return value
  // What was a whole number of the engine before it became one of ours is it again.
  const [before, after] = value.parts
  const [whole] = value.inputs
  const isCast = value.inputs.length === 1 && before === 'cast(' && after === ' as float8)'
  return sql`cast(${isCast && whole !== undefined ? whole : value} as ${dialect.types.integer})`
}
