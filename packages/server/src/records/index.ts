/**
 * What is written down of what happens: the audit, and figures. Start reading at `audit.ts`.
 * @module
 */
export { Audit, type AuditLines } from './audit.js'
export { Metrics } from './metrics.js'
