/**
 * What a formula reads from other rows than its own: the end of links, a group, a single value, the row outside.
 *
 * Start reading at `aggregate-input.ts`.
 * @module
 */
export { AggregateInput, type ReaderGroups } from './aggregate-input.js'
export { ColumnInput } from './column-input.js'
export { FollowInput } from './follow-input.js'
export { GroupInput } from './group-input.js'
export { HolidayList } from './holiday-list.js'
export { LineSizeInput, NeighbourInput, type Neighbours } from './line-inputs.js'
export { OuterInput } from './outer-input.js'
export { SameInput } from './same-input.js'
export { SingleInput } from './single-input.js'
