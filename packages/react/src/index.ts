/**
 * Hooks that follow a workbook: what a component shows is read when it renders, and it renders again only when that has changed.
 *
 * In comes a workbook, or a view of one; out go rows, cells, findings. Start reading at `use-table.ts`.
 * @module
 */
export { type CellPlace, useCell } from './use-cell.js'
export { useFindings } from './use-findings.js'
export { useRevision } from './use-revision.js'
export { useTable } from './use-table.js'
export { useWindow, type WindowState } from './use-window.js'
