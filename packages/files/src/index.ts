/**
 * Open formats (`formats.ts`) and the workbook file. Browsers get `browser.ts` in its place.
 * @module
 */
export {
  BookFile,
  type BookFileCode,
  BookFileFault,
  type CreateOptions,
  copyBookFile,
  isWrittenHere,
  type JournalEntry,
  type KeptAnswer,
  type OpenOptions,
  salvagedSteps,
  userName,
} from './book-file/index.js'
export * from './formats.js'
