import * as v from 'valibot'
import { Present } from './facts.js'
import { IdsOfTable, Met } from './rows.js'
import { Cells, Revision, RowId, WireFinding } from './values.js'

/** Where a row stands in an outline: how deep, how many rows are below it, and whether these are not shown. */
const RowStand = v.strictObject({ depth: v.number(), below: v.number(), isFolded: v.boolean() })

/** What has become of a window: columns and ids only where they are others, of rows only the cells that are others. */
const WindowNews = v.strictObject({
  revision: Revision,
  /** Rows that the condition keeps. */
  count: v.number(),
  /** The place of the first row, from 1. */
  from: v.number(),
  columns: v.optional(v.array(v.string())),
  /** Ids of the rows in their order. */
  ids: v.optional(v.array(RowId)),
  /** Where these rows stand in the outline, one for each; null where there is no outline any more. */
  stands: v.optional(v.nullable(v.array(RowStand))),
  rows: v.array(v.strictObject({ id: RowId, cells: Cells })),
  /** True when the table, or a column that was asked for, is no more. */
  isGone: v.boolean(),
})

/** The data of each event of the live feed. */
export const FEED_EVENTS = {
  /** A revision; its number is the id of the event. */
  change: v.strictObject({
    revision: Revision,
    author: v.nullable(v.string()),
    at: v.nullable(v.string()),
    /** How many cells changed, were calculated, and are yet to be calculated; by table and column. */
    cells: v.record(v.string(), v.record(v.string(), v.array(v.number()))),
    /** There where something is defined otherwise than before. */
    definitions: v.optional(v.literal(true)),
    inserted: v.optional(v.array(IdsOfTable)),
    removed: v.optional(v.array(IdsOfTable)),
    met: v.optional(v.array(Met)),
    /** What has become of windows, by their names. */
    windows: v.optional(v.record(v.string(), WindowNews)),
  }),
  /** Findings that are new, and findings that are gone; it comes before the change of its revision. */
  findings: v.strictObject({ revision: Revision, added: v.array(WireFinding), removed: v.array(WireFinding) }),
  /** All that a window shows, when it is opened; or what has become of it without a change. */
  window: v.strictObject({ window: v.string(), ...WindowNews.entries }),
  /** Who is there now. */
  presence: Present,
  /** Everything is to be fetched anew. */
  reset: v.strictObject({ revision: v.optional(Revision) }),
}
