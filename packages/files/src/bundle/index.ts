/**
 * Bundles: a workbook as a zip of readable definitions (`book.json`) and CSV, in a stable order, for version control and
 * exchange. Start reading at `bundle-shape.ts`.
 * @module
 */
export { Bundle } from './bundle-shape.js'
export { type ReadBundle, readBundle } from './read-bundle.js'
export { writeBundle } from './write-bundle.js'
