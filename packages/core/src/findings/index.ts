/**
 * Findings: what the tool says about mistakes. Codes and wording come from one registry; a finding is data with a place,
 * the rows affected and fixes; a refusal is an error that carries findings. Start reading at `codes.ts`.
 * @module
 */

export { caretLines } from './caret.js'
export type { Severity } from './code-record.js'
export { CODE_GROUPS, FINDING_CODES, type FindingCode } from './codes.js'
export { counted, namedRows } from './counted.js'
export { applyEdits, type Finding, type FindingParameters, type Fix, finding, hasErrors, type TextEdit } from './finding.js'
export { nearestName } from './nearest.js'
export { Refusal, refusal } from './refusal.js'
export { refuseErrors } from './refuse-errors.js'
