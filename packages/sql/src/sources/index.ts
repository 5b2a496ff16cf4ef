/**
 * Tables of a database as sources of a workbook: what they hold, a sample of their rows, and how their columns are read so that
 * they hold what ours may. Start reading at `describe-relation.ts`.
 * @module
 */

export { countRows, refuseSharedKeys } from './count-rows.js'
export { describeRelation, readRelation, SourceFault } from './describe-relation.js'
export { attachedRelation, type RelationFacts, relationText } from './relation.js'
export { fittingValue, readingOf, type SourceReading, sourceForm } from './source-form.js'
export {
  type SampledCell,
  type SampledColumn,
  type SampleOptions,
  type SourceSample,
  sourceOfSample,
  takeSample,
} from './take-sample.js'
