import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'
import { groupedViewShape } from './grouped-view.js'

export const setReportSchema = /* @__PURE__ */ operationSchema('set-report', {
  /** Its name, of its own among the reports of the workbook. */
  name: Name,
  /** The grouped view that is kept. A parameter without a value is asked for when the report is made. */
  report: groupedViewShape,
  /** The one it stands before; at the end when left out. */
  before: v.optional(Name),
})

/**
 * Sets a report: a grouped view that is kept under a name. Names in it follow renaming, and what it uses cannot be removed
 * before it.
 *
 * @example
 * { op: 'set-report', name: 'by_hive', report: { table: 'harvests', levels: [{ key: 'hive' }], tallies: [{ name: 'total', formula: 'sum(honey_kg)' }] } }
 */
export type SetReport = GivenBy<typeof setReportSchema>

export const removeReportSchema = /* @__PURE__ */ operationSchema('remove-report', {
  /** The report. */
  name: Name,
})

/**
 * Removes a report.
 *
 * @example
 * { op: 'remove-report', name: 'by_forage' }
 */
export type RemoveReport = GivenBy<typeof removeReportSchema>
