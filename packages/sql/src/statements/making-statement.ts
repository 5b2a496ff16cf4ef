/** A statement that makes something in the schema. */
export interface MakingStatement {
  readonly kind: 'function' | 'table' | 'rows' | 'view'
  /** What it makes, or puts rows into. */
  readonly name: string
  readonly text: string
  /** Statements of others whose result is in this one: where they become different, so does it. */
  readonly standsOn?: readonly string[]
}
