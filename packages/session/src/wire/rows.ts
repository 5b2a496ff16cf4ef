import * as v from 'valibot'
import { Cells, GivenCells, Revision, Row, RowId, Value, WireFinding } from './values.js'

const count = v.pipe(v.number(), v.integer(), v.minValue(0))
const CellCount = v.strictObject({ table: v.string(), column: v.string(), rows: count })
/** Ids of rows of a table. */
export const IdsOfTable = v.strictObject({ table: v.string(), ids: v.array(RowId) })
const Findings = v.strictObject({ added: v.array(WireFinding), removed: v.array(WireFinding) })

/** A cell that another one had changed since the author of an edit last saw it; what came later stands. */
export const Met = v.strictObject({
  table: v.string(),
  row: RowId,
  column: v.string(),
  /** What the earlier one had written, and the later one. */
  theirs: Value,
  yours: Value,
  /** Who the earlier one was, when and in which revision. */
  author: v.nullable(v.string()),
  at: v.nullable(v.string()),
  revision: Revision,
})

/** What a write has done. */
const done = {
  revision: Revision,
  author: v.nullable(v.string()),
  /** When, ISO 8601, on the clock of the workbook. */
  at: v.nullable(v.string()),
  /** Calculated cells that were evaluated. */
  recalculated: v.array(CellCount),
  /** Cells whose value differs now. */
  changed: v.array(CellCount),
  /** Cells that are to be calculated when they are read. */
  stale: v.array(CellCount),
  /** Rows that are new, and rows that are gone. */
  inserted: v.array(IdsOfTable),
  removed: v.array(IdsOfTable),
  /** Columns that are in another unit now; null for none. */
  units: v.array(
    v.strictObject({ table: v.string(), column: v.string(), before: v.nullable(v.string()), after: v.nullable(v.string()) }),
  ),
  /** Findings that are new, and findings that are gone. */
  findings: Findings,
  met: v.array(Met),
  /** True where something is defined otherwise than before. */
  definitions: v.boolean(),
}

/** What a write would do. */
const Change = v.strictObject(done)

/** A page of rows. */
export const RowsPage = v.strictObject({
  revision: Revision,
  rows: v.array(Row),
  /** How many there are in all. */
  matched: count,
  /** Goes into `after` for the next page; null at the end. */
  next: v.nullable(v.string()),
})

/** One row. */
export const OneRow = v.strictObject({ revision: Revision, id: RowId, cells: Cells })

/** One row that was put in or written, with its calculated values. */
export const WrittenRow = v.strictObject({ ...done, id: RowId, cells: v.optional(Cells) })

/** Rows that were put in, with their calculated values; those that were refused where each was to be tried. */
export const WrittenRows = v.strictObject({
  ...done,
  rows: v.optional(v.array(Row)),
  refused: v.optional(v.array(v.strictObject({ row: v.number(), code: v.string(), message: v.string() }))),
})

/** What operations have done, with all rows that they touched. */
export const Applied = v.strictObject({
  ...done,
  rows: v.optional(v.array(v.strictObject({ table: v.string(), id: RowId, cells: Cells }))),
})

const PreviewRow = v.looseObject({ row: RowId, rowNumber: v.number(), why: v.string() })

/** What operations would do. */
const Preview = v.strictObject({
  change: Change,
  columns: v.array(
    v.strictObject({
      table: v.string(),
      column: v.string(),
      changed: count,
      bytes: count,
      findings: v.array(WireFinding),
      rows: v.array(PreviewRow),
    }),
  ),
})

/** What operations have done, or, of a preview, would do. */
export const AppliedOrPreview = v.union([Applied, Preview])

/** A step that was taken back or done again; null where there was none. */
export const Turned = v.nullable(Applied)

/** Cells of one row that is new, or of several. */
export const GivenRows = v.union([v.array(GivenCells), GivenCells])
