import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { list, Name, Value } from './fields.js'
import { RowIds } from './row-ids.js'

const stamp = v.strictObject({
  when: field(v.pipe(list(Name), v.minLength(1, 'a stamp watches at least one column')), 'The source columns it watches.'),
  on: v.optional(
    field(v.picklist(['first-fill', 'each-change']), 'Whether the first time one of them is filled counts, or every change.'),
    'first-fill',
  ),
  content: v.optional(field(v.picklist(['time', 'author']), 'What is written.'), 'time'),
})

export const setStampSchema = operationSchema('set-stamp', {
  does: 'Makes a source column a stamp: it records when, or by whom, others were filled or changed. Cells so far stay.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The column.'),
    stamp: field(v.nullable(stamp), 'What it watches, and what is written when; null frees the column to be typed over.'),
  },
  examples: [
    { op: 'set-stamp', table: 'harvests', column: 'entered', stamp: { when: ['honey_kg', 'frames'], on: 'each-change' } },
  ],
})

/** A column that records when or by whom others were filled. */
export type SetStamp = GivenBy<typeof setStampSchema>
/** The same as journals carry it. */
export type JournaledSetStamp = JournaledBy<typeof setStampSchema>

export const stampCellsSchema = operationSchema('stamp-cells', {
  does: 'Writes a stamp. The workbook adds it to the operations that fill what the stamp watches, so that a replay has the same.',
  fields: {
    table: field(Name, 'The table it belongs to.'),
    column: field(Name, 'The stamp.'),
    rows: field(RowIds, 'Ids of the rows.'),
    value: field(Value, 'The time or the author.'),
  },
  examples: [{ op: 'stamp-cells', table: 'harvests', column: 'entered', rows: [1, 2], value: '2026-06-30T18:05:00' }],
})

/** Writes a stamp. */
export type StampCells = GivenBy<typeof stampCellsSchema>
