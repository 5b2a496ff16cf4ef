import type { Definitions } from 'mellow-abacus/model'
import type { Dialect } from '../dialects/index.js'
import type { ModelTerms, SourceOfTable } from '../formulas/index.js'
import type { RelationFacts } from '../sources/index.js'
import type { MakingStatement } from './making-statement.js'

/** A formula that an engine has no form for, or a name that it has no room for. */
export interface RefusedFormula {
  /** `table.column`, or the name of a table, a named value or a rule. */
  readonly address: string
  /** Empty for what has none. */
  readonly formula: string
  readonly reason: string
}

/** A column whose last bits may be others than ours, since it sums fractions, or calls what each engine calculates its own way. */
export interface ApproximateColumn {
  readonly address: string
  readonly formula: string
  /**
   * How far its numbers may be from ours at most, relative to them, for as many rows as there are now and wherever what is summed
   * has one sign; null where that is not known, and where other bits can make quite another value.
   */
  readonly bound: number | null
}

/** A model as statements for one engine. */
export interface ModelSql {
  readonly engine: Dialect['name']
  readonly schema: string
  readonly statements: readonly MakingStatement[]
  readonly approximate: readonly ApproximateColumn[]
  /** Where this is not empty, there are no statements. */
  readonly refused: readonly RefusedFormula[]
  /** What was left out, as asked or because it reads what was. */
  readonly leftOut: readonly string[]
  /** The columns that are kept, as asked and because those read them. */
  readonly kept: readonly string[]
}

/** What a model is carried with. */
export interface ModelSqlOptions {
  /** The schema that everything is made in; `mellow` unless given. */
  readonly schema?: string
  /** Columns (`table.column`), tallies, named values and rules that are left out, and with them what reads them. */
  readonly leaveOut?: readonly string[]
  /** What the database says now of the relations that tables are attached to, by the names of the tables; what the workbook remembers unless given. */
  readonly relations?: ReadonlyMap<string, RelationFacts>
  /** Columns (`table.column`), tallies and named values that are kept, and with them what they read. */
  readonly kept?: readonly string[]
  /** A column of sources that says when a row was last changed: what is kept is refreshed by it where a source has it. */
  readonly since?: string | null
  /** True where triggers on the sources note which rows change. */
  readonly triggers?: boolean
}

/** A model that is not written as the workbook defines it. */
export interface GivenModel {
  readonly definitions: Definitions
  /** Where tables are that are neither copied nor read from what they are attached to. */
  readonly sources: ReadonlyMap<string, SourceOfTable>
  /** Columns, tallies, named values and rules that are left out, and with them what reads them. */
  readonly leftOut: ReadonlySet<number>
  /** Columns that views do not show, and others may read. */
  readonly hidden: ReadonlySet<number>
  /** Tables that have no views. */
  readonly hiddenTables: ReadonlySet<string>
  /** Statements besides, from the terms of the model. */
  readonly more: (terms: ModelTerms, named: (name: string) => string) => readonly MakingStatement[]
}
