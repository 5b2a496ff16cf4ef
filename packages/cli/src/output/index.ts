/**
 * What is told and how: tables, findings, progress, files replaced in one step.
 * @module
 */

export { findingsJson, findingText, placeOf } from './findings.js'
export { COLUMNS_OF_GROUPS } from './grouped-text.js'
export { refuseBadPath, replaceFile } from './output-file.js'
export { startBar } from './progress.js'
export { shownLines } from './shown-lines.js'
export { shownPath } from './shown-path.js'
export { type RowsShown, SHOWN_ROWS, tableText } from './table-text.js'
export { totalsOf } from './totals.js'
export { chartFormatOf, type DrawingArguments, writeDrawing } from './write-drawing.js'
export { outputFormat, tellNotHeld, writeAsSheets, writeResult } from './write-result.js'
