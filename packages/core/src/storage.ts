/**
 * Columns in storage, and the texts that values are written as: for packages that read and write files of their own format.
 * It follows what is stored inside, so it may change with any minor version.
 * @module
 */
export {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  Column,
  type ColumnHead,
  makeVector,
  type Selection,
  type StoredCells,
  type StoredChunk,
  type Vector,
} from './columns/index.js'
export {
  compareText,
  compileDatePattern,
  type DatePattern,
  faultOfStatus,
  foldName,
  isTimeZone,
  isWhole,
  MS_PER_DAY,
  parseDateText,
  parseDateTimeText,
  parseMomentText,
  parseNumberText,
  printDate,
  printDateTime,
  printNumber,
  Status,
  statusOfFault,
  zonedWallClock,
} from './values/index.js'
