/**
 * The server: shared workbooks of a folder over HTTP, with a live feed. In come requests, out go answers with calculated values.
 * Start reading at `server.ts`, then `routes/context.ts`.
 * @module
 */
export { type KeptToken, type NewToken, TOKEN_FILE, TokenFault, TokenFile } from './access/index.js'
export {
  type GivenServerOptions,
  optionsOfEnvironment,
  readServerOptions,
  type ServerOptions,
  ServerOptionsFault,
  ServerOptionsSchema,
} from './options.js'
export type { Page } from './routes/index.js'
export { type RunningDesk, type RunningServer, type ServerParts, startDesk, startServer } from './server.js'
