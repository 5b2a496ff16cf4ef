import * as v from 'valibot'
import { chartShape } from './chart.js'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Name } from './fields.js'

export const setChartSchema = /* @__PURE__ */ operationSchema('set-chart', {
  /** Its name, of its own among the charts of the workbook. */
  name: Name,
  /** What is drawn. */
  chart: chartShape,
  /** The one it stands before; at the end when left out. */
  before: v.optional(Name),
})

/**
 * Sets a chart: a drawing of rows or of a report that is kept under a name. Names in it follow renaming, and what it draws
 * cannot be removed before it.
 *
 * @example
 * { op: 'set-chart', name: 'by_frames', chart: { table: 'harvests', x: 'frames', series: [{ formula: 'honey_kg', kind: 'point' }] } }
 */
export type SetChart = GivenBy<typeof setChartSchema>

export const removeChartSchema = /* @__PURE__ */ operationSchema('remove-chart', {
  /** The chart. */
  name: Name,
})

/**
 * Removes a chart.
 *
 * @example
 * { op: 'remove-chart', name: 'by_day' }
 */
export type RemoveChart = GivenBy<typeof removeChartSchema>
