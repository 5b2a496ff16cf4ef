/**
 * The workbooks of a folder, each open in a thread of its own while it is used. Start reading at `open-books.ts`.
 * @module
 */
export { BookFolder, type BookPlaces, isBookName, removeBookFile } from './book-folder.js'
export { OneBook } from './one-book.js'
export { OpenBooks, TooManyOpen } from './open-books.js'
export type { ServedBook } from './served-book.js'
