/**
 * The engines that a model can be carried to, each a record of how its language says what ours means. Start reading at `dialect.ts`.
 * @module
 */

export {
  type Dialect,
  ENGINES,
  type EngineName,
  FAULTS,
  type Graphemes,
  NoForm,
  numberOfFault,
  ReadsNoForm,
  type StoredKind,
} from './dialect.js'
export { DUCKDB } from './duckdb.js'
export { POSTGRESQL } from './postgresql.js'
