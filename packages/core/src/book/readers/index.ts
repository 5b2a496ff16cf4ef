/**
 * What one reader has of a workbook: roles, groups, columns that are hidden from them, and what their own steps touched.
 *
 * In come a model and who looks, out goes the model as they have it. Start reading at `seen-model.ts`.
 * @module
 */

export { checkHiding } from './check-hiding.js'
export { readReaderOptions } from './given-reader.js'
export { columnsHiddenFrom, groupsOfModel } from './hidden-columns.js'
export { revealingFindings } from './reveals-hidden.js'
export { hasRole, LEAST_ROLES, leastRoleOf, ROLES, type Role } from './roles.js'
export { seenChange, seenFindings, toldRefusals } from './seen-change.js'
export { SeenHistory } from './seen-history.js'
export { seenModel } from './seen-model.js'
export { firstTouched, marksOf, type StepMark } from './step-marks.js'
