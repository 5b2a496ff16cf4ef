/**
 * Bringing what is kept up to date: changed rows of the sources, then the rows that read them. Start reading at `refresh.ts`.
 * @module
 */

export type { ChangedSource } from './changed-rows.js'
export { type Refreshed, type RefreshedColumn, type RefreshOptions, refresh } from './refresh.js'
