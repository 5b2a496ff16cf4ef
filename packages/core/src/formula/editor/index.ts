/**
 * Services for editors of formulas: completion, signature help, hover, rename, what each piece is, and even spacing. In comes
 * a text, which may be unfinished, with a place and the names of a table; out goes data to show. Start reading at `place.ts`.
 * @module
 */

export { type Completion, type CompletionKind, type Completions, completeFormula } from './complete.js'
export { formatFormula } from './format.js'
export { type Hover, hoverAt } from './hover.js'
export { renameAt } from './rename.js'
export { type SignatureHelp, signatureAt } from './signature.js'
export { type TokenKind, type TokenOfKind, tokenKinds } from './token-kinds.js'
