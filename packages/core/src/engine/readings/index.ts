/**
 * What a plan gets from other rows than its own: at the end of links, of a group, of a single value, of the row outside. Each
 * also says which rows a round may have touched. Start reading at `reading.ts`.
 * @module
 */

export type { Reading } from '../cross-row-input.js'
export { AggregateReading, type ReaderGroups } from './aggregate-reading.js'
export { ColumnReading } from './column-reading.js'
export { FollowReading } from './follow-reading.js'
export { HolidayList } from './holiday-list.js'
export { OuterReading } from './outer-reading.js'
export { SingleReading } from './single-reading.js'
