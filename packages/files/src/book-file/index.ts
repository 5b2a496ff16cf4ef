/**
 * Workbooks in files: one SQLite database each, with a journal of every call and the cells in Arrow chunks. Start reading at
 * `book-file.ts`.
 * @module
 */
export { BookFile, type CreateOptions, copyBookFile, type OpenOptions } from './book-file.js'
export { type BookFileCode, BookFileFault } from './book-file-fault.js'
export { BOOK_TABLES, type BookTable, type Keeper, type RowValue, type WrittenRow } from './book-rows.js'
export type { JournalEntry } from './journal-entry.js'
export type { KeptAnswer } from './kept-answers.js'
export { fillBookFile } from './make-book.js'
export { salvagedSteps } from './salvage.js'
export { userName } from './user-name.js'
export { isWrittenHere } from './writer-lock.js'
