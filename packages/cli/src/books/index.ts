/**
 * Work with a workbook file: open it, change or look at it, say what followed. Start reading at `work-on-book.ts`.
 * @module
 */
export { assignment, rowOf, tableOf, typedValue } from './addresses.js'
export { bookPath } from './book-path.js'
export type { ChangeArguments } from './change-options.js'
export { counted } from './counted.js'
export { followedText } from './followed.js'
export { operationsPhrase } from './phrases.js'
export { shownText } from './preview-text.js'
export { change, formulaAt, formulaOf, lookAt, makeBook, refuseFile, report, stamp, tell, withBook } from './work-on-book.js'
