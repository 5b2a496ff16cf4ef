/**
 * Open formats (`formats.ts`) and the workbook file. Browsers get `browser.ts` in its place.
 * @module
 */
export {
  BOOK_TABLES,
  BookFile,
  type BookFileCode,
  BookFileFault,
  type BookTable,
  type CreateOptions,
  copyBookFile,
  fillBookFile,
  isWrittenHere,
  type JournalEntry,
  type Keeper,
  type KeptAnswer,
  type OpenOptions,
  type RowValue,
  salvagedSteps,
  userName,
  type WrittenRow,
} from './book-file/index.js'
export * from './formats.js'
