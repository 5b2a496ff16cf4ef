import * as v from 'valibot'

/**
 * What an operation looks like as JSON. What it does, what its fields mean and examples of it stand in the comments of its type
 * and fields: editors show them, and the reference is made from them.
 */
export interface OperationSchema<Op extends string, Fields extends v.ObjectEntries, Journal extends v.ObjectEntries> {
  readonly op: Op
  /** The fields that callers write. */
  readonly given: v.StrictObjectSchema<Entries<Op, Fields>, undefined>
  /** The same with the fields that only the book writes, so that a journal repeats what was done and takes it back. */
  readonly journaled: v.StrictObjectSchema<Omit<Entries<Op, Fields>, keyof Journal> & Journal, undefined>
}

type Entries<Op extends string, Fields extends v.ObjectEntries> = { readonly op: v.LiteralSchema<Op, undefined> } & Fields
type Flat<Type> = { readonly [Key in keyof Type]: Type[Key] }

/** An operation as callers write it. */
export type GivenBy<Schema extends { readonly given: v.GenericSchema }> = Flat<v.InferInput<Schema['given']>>

/** An operation as journals carry it: with ids, and with what only a step back or forth needs. */
export type JournaledBy<Schema extends { readonly journaled: v.GenericSchema }> = Flat<v.InferOutput<Schema['journaled']>>

/** The schema of some operation, for the one who goes through all of them. */
export interface AnyOperationSchema {
  readonly op: string
  readonly given: v.GenericSchema
  readonly journaled: v.GenericSchema
}

/** Makes the schema of an operation; `journal` are fields that only the book writes. */
export function operationSchema<
  const Op extends string,
  const Fields extends v.ObjectEntries,
  const Journal extends v.ObjectEntries = Record<never, never>,
>(op: Op, fields: Fields, journal?: Journal): OperationSchema<Op, Fields, Journal> {
  const entries: Entries<Op, Fields> = { op: v.literal(op), ...fields }
  const journaled = { ...entries, ...(journal as Journal) }
  return { op, given: v.strictObject(entries), journaled: v.strictObject(journaled) }
}
