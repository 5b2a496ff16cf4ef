/**
 * A door for assistant programs: tools over one workbook by the Model Context Protocol, always with a preview first. Start reading at
 * `assistant-server.ts`, then `looking-tools.ts` and `changing-tools.ts`.
 * @module
 */
export { assistantServer, type Invitation } from './assistant-server.js'
export { openHttpDoor } from './over-http.js'
export type { Allowed } from './tool.js'
