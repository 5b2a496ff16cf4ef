import type { QueryResult } from 'mellow-abacus'

/** A table and the name it is to go by. */
export interface NamedResult {
  readonly name: string
  readonly result: QueryResult
}
