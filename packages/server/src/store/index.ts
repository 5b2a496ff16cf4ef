/**
 * Where workbooks are kept: files of a folder, one file, or tables of a database that several servers share. Start reading at
 * `book-store.ts`.
 * @module
 */
export { BookFolder, removeBookFile } from './book-folder.js'
export { type BookStore, type Claim, HeldElsewhere, isBookName } from './book-store.js'
export { OneBook } from './one-book.js'
export { AuditTable, PostgresqlStore, StoreFault } from './postgresql/index.js'
