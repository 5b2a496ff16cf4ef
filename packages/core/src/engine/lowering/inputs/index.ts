/**
 * What a formula reads from other rows than its own: the end of links, a group, a single value, the row outside.
 *
 * Start reading at `aggregate-input.ts`.
 * @module
 */
export { AggregateReading, type ReaderGroups } from './aggregate-input.js'
export { ColumnReading } from './column-input.js'
export { FollowReading } from './follow-input.js'
export { HolidayList } from './holiday-list.js'
export { OuterReading } from './outer-input.js'
export { SingleReading } from './single-input.js'
