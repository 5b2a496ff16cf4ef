import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Value } from './fields.js'
import { RowIds } from './row-ids.js'

const stamp = v.strictObject({
  /** The source columns it watches. */
  when: v.pipe(list(Name), v.minLength(1, 'a stamp watches at least one column')),
  /** Whether the first time one of them is filled counts, or every change. */
  on: v.optional(v.picklist(['first-fill', 'each-change']), 'first-fill'),
  /** What is written. */
  content: v.optional(v.picklist(['time', 'author']), 'time'),
})

export const setStampSchema = operationSchema('set-stamp', {
  /** The table it belongs to. */
  table: Name,
  /** The column. */
  column: Name,
  /** What it watches, and what is written when; null frees the column to be typed over. */
  stamp: v.nullable(stamp),
})

/**
 * Makes a source column a stamp: it records when, or by whom, others were filled or changed. Cells so far stay.
 *
 * @example
 * { op: 'set-stamp', table: 'harvests', column: 'entered', stamp: { when: ['honey_kg', 'frames'], on: 'each-change' } }
 */
export type SetStamp = GivenBy<typeof setStampSchema>
/** The same as journals carry it. */
export type JournaledSetStamp = JournaledBy<typeof setStampSchema>

export const stampCellsSchema = operationSchema('stamp-cells', {
  /** The table it belongs to. */
  table: Name,
  /** The stamp. */
  column: Name,
  /** Ids of the rows. */
  rows: RowIds,
  /** The time or the author. */
  value: Value,
})

/**
 * Writes a stamp. The workbook adds it to the operations that fill what the stamp watches, so that a replay has the same.
 *
 * @example
 * { op: 'stamp-cells', table: 'harvests', column: 'entered', rows: [1, 2], value: '2026-06-30T18:05:00' }
 */
export type StampCells = GivenBy<typeof stampCellsSchema>
