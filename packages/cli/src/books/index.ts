/**
 * Work on a workbook, in a file or at a server: opened, changed as one step, told of.
 * @module
 */
export { assignment, rowOf, tableOf, typedValue } from './addresses.js'
export type { BookAtHand } from './book-at-hand.js'
export { isAtServer, isUrl, sessionAt } from './book-at-server.js'
export { bookPath } from './book-path.js'
export { followedText } from './followed.js'
export { previewText, shownText } from './preview-text.js'
export {
  change,
  formulaAt,
  formulaOf,
  lookAt,
  makeBook,
  report,
  stamp,
  tell,
  withBook,
  withFile,
} from './work-on-book.js'
