/**
 * A compiled formula with all it reads, ready to run block by block.
 *
 * In come a plan and what supplies its reads, out go vectors of a block. Start reading at `lowered-plan.ts`.
 * @module
 */

export type { AccessPath } from './access-path.js'
export type { CrossRowInput, DayList, OuterRowInput } from './cross-row-input.js'
export { Frames } from './frames.js'
export { LoweredPlan } from './lowered-plan.js'
