/**
 * Workbooks in files: one SQLite database each, with a journal of every call and the cells in Arrow chunks. Start reading at
 * `book-file.ts`.
 * @module
 */
export { BookFile, type JournalEntry, salvagedSteps } from './book-file.js'
export { type BookFileCode, BookFileFault } from './book-file-fault.js'
