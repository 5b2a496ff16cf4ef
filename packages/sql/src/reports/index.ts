/**
 * Reports as views: each level of groups is a table of the model, whose rows are groups, so that lines are calculated as columns are.
 * Start reading at `report-views.ts`, then `level-tables.ts`.
 * @module
 */

export { isReportAddress, partedBy, reportNamed } from './addresses.js'
export { reportView, reportViewName } from './report-views.js'
