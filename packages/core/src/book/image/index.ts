/**
 * A workbook as a file keeps it: definitions as plain JSON, cells in chunks that are read when they are first touched.
 * @module
 */
export type { BookImage, ColumnImage, ImageCells, TableImage, TakenImage, UnsavedColumn } from './image.js'
export { definitionsOf, restoreCells } from './restore-image.js'
export { takeImage } from './take-image.js'
