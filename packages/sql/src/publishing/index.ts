/**
 * Publishing a model to a database: in one schema and one transaction, and only what has become different. Start reading at
 * `publish.ts`.
 * @module
 */

export { databaseOf, relationsNow } from './attached-relations.js'
export { objectsIn, wantedObjects } from './in-schema.js'
export { type KeptSettings, keptSettings } from './kept-settings.js'
export {
  bringInto,
  OWNER,
  type Published,
  type PublishOptions,
  type PublishStep,
  publish,
  refuseOtherOwner,
  takeTurn,
} from './publish.js'
export { PublishRefusal } from './refusal.js'
