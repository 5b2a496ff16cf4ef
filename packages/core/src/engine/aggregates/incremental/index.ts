/**
 * Results a group that follow single rows: what a row added is taken away, what it adds now is added.
 *
 * Start reading at `aggregate-node.ts`, then `incremental-aggregate.ts`.
 * @module
 */
export { Accumulator, type AggregateCall, mindsOrder, summedResult } from './accumulator.js'
export { AggregateNode } from './aggregate-node.js'
export { GroupSums } from './group-sums.js'
