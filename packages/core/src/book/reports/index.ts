/**
 * Grouped views: the rows of a table in groups inside groups, with columns for rows, groups and lines.
 *
 * In comes a view, out go its lines and their cells. Start reading at `grouped-view.ts`, then `make-view.ts`.
 * @module
 */

export { valuesAcross } from './across.js'
export { checkReports } from './check-reports.js'
export { type KnownView, knownView } from './check-view.js'
export type { GroupedResult, ViewLine } from './grouped-view.js'
export { isReadOfTotal, NEIGHBOURS } from './line-columns.js'
export { type ChangedGroup, openReport, type ReportChange, type ReportView } from './live-report.js'
export { laidOut, makeView, resultOf, rowsOf } from './make-view.js'
export { reportAddress, reportFigure } from './report-figure.js'
export { type ParameterValues, withParameters } from './report-parameters.js'
export { columnNamed, type ViewColumn } from './view-columns.js'
export { parseLevels, parseViewOrder, parseViewParameter, parseViewTop, splitAtCommas } from './view-texts.js'
export { firstLines, foldedAt, isOfOutline, lineLabels, outlineHeading, viewHead } from './view-words.js'
