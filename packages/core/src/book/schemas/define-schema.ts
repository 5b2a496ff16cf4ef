import * as v from 'valibot'

/** What an operation looks like as JSON: its fields with what they mean, and examples that work on the example book. */
export interface OperationSchema<Op extends string, Fields extends v.ObjectEntries, Journal extends v.ObjectEntries> {
  readonly op: Op
  /** What it does, as one sentence. */
  readonly does: string
  /** The fields that callers write. */
  readonly given: v.StrictObjectSchema<Entries<Op, Fields>, undefined>
  /** The same with the fields that only the book writes, so that a journal repeats what was done and takes it back. */
  readonly journaled: v.StrictObjectSchema<Omit<Entries<Op, Fields>, keyof Journal> & Journal, undefined>
  readonly examples: readonly [Given<Op, Fields>, ...Given<Op, Fields>[]]
}

type Entries<Op extends string, Fields extends v.ObjectEntries> = { readonly op: v.LiteralSchema<Op, undefined> } & Fields
type Given<Op extends string, Fields extends v.ObjectEntries> = v.InferInput<v.StrictObjectSchema<Entries<Op, Fields>, undefined>>
type Flat<Type> = { readonly [Key in keyof Type]: Type[Key] }

/** An operation as callers write it. */
export type GivenBy<Schema extends { readonly given: v.GenericSchema }> = Flat<v.InferInput<Schema['given']>>

/** An operation as journals carry it: with ids, and with what only a step back or forth needs. */
export type JournaledBy<Schema extends { readonly journaled: v.GenericSchema }> = Flat<v.InferOutput<Schema['journaled']>>

/** The schema of some operation, for the one who goes through all of them. */
export interface AnyOperationSchema {
  readonly op: string
  readonly does: string
  readonly given: v.GenericSchema
  readonly journaled: v.GenericSchema
  readonly examples: readonly { readonly op: string }[]
}

/** Makes the schema of an operation; `journal` are fields that only the book writes. */
export function operationSchema<
  const Op extends string,
  const Fields extends v.ObjectEntries,
  const Journal extends v.ObjectEntries = Record<never, never>,
>(
  op: Op,
  {
    does,
    fields,
    journal,
    examples,
  }: {
    readonly does: string
    readonly fields: Fields
    readonly journal?: Journal
    readonly examples: readonly [Given<Op, Fields>, ...Given<Op, Fields>[]]
  },
): OperationSchema<Op, Fields, Journal> {
  const entries: Entries<Op, Fields> = { op: v.literal(op), ...fields }
  const journaled = { ...entries, ...(journal as Journal) }
  return { op, does, given: v.strictObject(entries), journaled: v.strictObject(journaled), examples }
}

/** Says what a field means. */
export function field<Schema extends v.GenericSchema>(schema: Schema, meaning: string) {
  return v.pipe(schema, v.description(meaning))
}
