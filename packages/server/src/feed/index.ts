/**
 * The live feed: what is told of a workbook, as server-sent events, and who is at it. Start reading at `live-feed.ts`.
 * @module
 */
export { EventStream } from './event-stream.js'
export { LiveFeed, type Wanted } from './live-feed.js'
