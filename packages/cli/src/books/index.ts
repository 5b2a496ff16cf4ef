/**
 * Work on a workbook file: opened, changed as one step, told of.
 * @module
 */
export { assignment, rowOf, tableOf, typedValue } from './addresses.js'
export { bookPath } from './book-path.js'
export { followedText } from './followed.js'
export { previewText, shownText } from './preview-text.js'
export { change, formulaAt, formulaOf, lookAt, makeBook, refuseFile, report, stamp, tell, withBook } from './work-on-book.js'
