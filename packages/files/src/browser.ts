/**
 * What `index.ts` gives, for browsers: all formats are read, all but XLSX are written, and there is no workbook file, whose
 * database is native. Bundles take its place.
 * @module
 */
export * from './formats.js'
