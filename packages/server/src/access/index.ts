/**
 * Who may come in: tokens of the folder, tokens of an issuer, and what they are good for. Start reading at `door.ts`.
 * @module
 */
export { type Caller, mayMake, readerOf, roleAt } from './caller.js'
export { Door } from './door.js'
export { type KeptToken, type NewToken, TOKEN_FILE, TokenFault, TokenFile } from './token-file.js'
