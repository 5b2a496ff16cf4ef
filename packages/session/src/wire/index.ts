/**
 * The schemas of the HTTP interface: what each address takes and gives. The server checks by them, its OpenAPI document is made
 * of them, and the types of `connect` come from them. Start reading at `routes.ts`.
 * @module
 */
export { FEED_EVENTS } from './feed.js'
export { MEDIA_TYPES } from './media-types.js'
export { WATCHED_WINDOWS } from './requests.js'
export { PROBLEM, ROUTES, type Route, type RouteName } from './routes.js'
export type { WireAnswer, WireBody, WireProblem } from './wire-types.js'
