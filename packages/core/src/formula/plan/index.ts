/**
 * Typed expression to a plan that runs block by block: kernels over vectors, choices over shrinking selections, constants
 * folded. In come columns of a block and a selection, out goes a vector. Start reading at `plan.ts`, then `frame.ts`.
 * @module
 */
export { Frame, type FrameSource } from './frame.js'
export { compilePlan, type Plan } from './plan.js'
