/**
 * The workbooks of a store, each open in a thread of its own while it is used. Start reading at `open-books.ts`.
 * @module
 */
export { OpenBooks, TooManyOpen } from './open-books.js'
export type { ServedBook } from './served-book.js'
