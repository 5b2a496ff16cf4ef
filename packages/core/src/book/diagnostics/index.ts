/**
 * What is to be said about formulas and data: one file a kind of finding, the ledger of those known, and those accepted.
 *
 * In come columns that were touched, out go findings. Start reading at `column-findings.ts`, then `finding-ledger.ts`.
 * @module
 */

export { type AcceptedFinding, acceptingOperation, findingsOfBook, openFindings } from './accepted.js'
export { findingsOfColumn } from './column-findings.js'
export { type Completeness, completenessOf } from './completeness.js'
export { causeOfError } from './error-cause.js'
export { errorFinding, errorsAmong, untoldErrors, withCause, withoutCause } from './error-findings.js'
export { FindingLedger } from './finding-ledger.js'
export { sampleFindings } from './sample-findings.js'
export { statisticsFindings } from './statistics-findings.js'
export { addToldOf } from './told-of.js'
export { watchedFindings } from './watched-findings.js'
