/**
 * A workbook as a file keeps it: definitions as plain JSON, cells in parts that are read when they are first touched.
 *
 * Start reading at `snapshot.ts`.
 * @module
 */
export { definitionsOf, restoreCells } from './restore-snapshot.js'
export type { BookSnapshot, SnapshotCells, TakenSnapshot, UnsavedColumn } from './snapshot.js'
export { takeSnapshot } from './take-snapshot.js'
