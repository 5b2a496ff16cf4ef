/**
 * Gives a plan what it reads from other rows: nested parts become hidden columns, groups and links become shared nodes.
 *
 * In comes a checked formula's plan, out goes a lowered plan. Start reading at `lowering.ts`.
 * @module
 */
export { callOf, type LinkParts, Lowering, type LoweringContext, lagCount, type OverRows } from './lowering.js'
export { type LineReads, levelsOf, lowerOverGroups, lowerOverLines, type OverGroups } from './over-groups.js'
