/**
 * What each address of the interface answers. Start reading at `context.ts`, then `rows.ts`.
 * @module
 */
export { bookRoutes } from './books.js'
export { type App, callerOfService, type ServerContext } from './context.js'
export { editRoutes } from './edits.js'
export { enterRoutes } from './enter.js'
export { Feeds } from './feeds.js'
export { forwardRequests } from './forward.js'
export { liveRoutes } from './live.js'
export { type Page, pageRoutes } from './page.js'
export { questionRoutes } from './questions.js'
export { rowRoutes } from './rows.js'
export { tableRoutes } from './tables.js'
