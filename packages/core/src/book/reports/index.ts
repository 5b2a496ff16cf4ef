/**
 * Grouped views: the rows of a table in groups inside groups, with columns for rows, groups and lines.
 *
 * In comes a view, out go its lines and their cells. Start reading at `grouped-view.ts`, then `make-view.ts`.
 * @module
 */

export { checkReports } from './check-reports.js'
export type { GroupedResult, ViewLine } from './grouped-view.js'
export { type ChangedGroup, openReport, type ParameterValues, type ReportChange, type ReportView } from './live-report.js'
export { makeView } from './make-view.js'
export { parseLevels, parseViewOrder, parseViewParameter, parseViewTop } from './view-texts.js'
export { firstLines, foldedAt, isOfOutline, lineLabels, outlineHeading, viewHead } from './view-words.js'
