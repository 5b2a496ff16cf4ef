/** A statement that makes something in the schema. */
export interface MakingStatement {
  readonly kind: 'function' | 'table' | 'rows' | 'view' | 'trigger' | 'foreign table'
  /** What it makes, or puts rows into. */
  readonly name: string
  readonly text: string
  /** The relation that a trigger is on, as it is named in a statement. */
  readonly on?: string
  /** Statements of others whose result is in this one: where they become different, so does it. */
  readonly standsOn?: readonly string[]
}
