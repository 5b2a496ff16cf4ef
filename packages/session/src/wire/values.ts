import * as v from 'valibot'

/** A value of a cell: a number, text, true or false, ISO 8601 text for dates, null for blank; an error; a text that does not fit. */
export const Value = v.union([
  v.number(),
  v.string(),
  v.boolean(),
  v.null(),
  v.strictObject({ error: v.string() }),
  v.strictObject({ misfit: v.string() }),
])

/** A value that may be written into a source cell. */
const GivenValue = v.union([v.number(), v.string(), v.boolean(), v.null(), v.strictObject({ misfit: v.string() })])

/** Cells by the names of their columns. */
export const Cells = v.record(v.string(), Value)
/** Cells to be written, by the names of their columns. */
export const GivenCells = v.record(v.string(), GivenValue)

/** A number of a revision, from 0. */
export const Revision = v.pipe(v.number(), v.integer(), v.minValue(0))
/** The id of a row. */
export const RowId = v.pipe(v.number(), v.integer(), v.minValue(1))

/** A row. */
export const Row = v.strictObject({ id: RowId, cells: Cells })

/** Something found; see the list of findings of the library. */
export const WireFinding = v.looseObject({
  code: v.string(),
  severity: v.picklist(['error', 'warning', 'hint']),
  message: v.string(),
})

/** What did not go well (RFC 9457). */
export const Problem = v.strictObject({
  type: v.literal('about:blank'),
  title: v.string(),
  status: v.pipe(v.number(), v.integer(), v.minValue(400), v.maxValue(599)),
  /** Says for programs what it is. */
  code: v.string(),
  /** The same for people. */
  detail: v.string(),
  /** Names the request in the logs. */
  request: v.string(),
  /** Everything that stands against it. */
  findings: v.optional(v.array(WireFinding)),
  /** The operation that was refused. */
  operation: v.optional(v.looseObject({})),
  /** Of a row that is another by now: what it is, and what was to be written. */
  row: v.optional(v.strictObject({ now: v.nullable(v.looseObject({})), given: v.optional(v.looseObject({})) })),
  /** Pairs of rows that would have to be looked at, where those are too many. */
  cost: v.optional(v.number()),
})
