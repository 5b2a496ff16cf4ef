/**
 * A workbook as a file keeps it: definitions as plain JSON, cells in chunks that are read when they are first touched.
 * @module
 */

export { definitionsOf, restoreCells } from './restore-snapshot.js'
export type { BookSnapshot, ColumnSnapshot, SnapshotCells, TableSnapshot, TakenSnapshot, UnsavedColumn } from './snapshot.js'
export { takeSnapshot } from './take-snapshot.js'
