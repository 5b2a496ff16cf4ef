/**
 * Text to tree: tokens, the parser, and walks over the tree. Parsing never throws and always gives a tree.
 * Start reading at `tree.ts`, then `parse.ts`.
 * @module
 */

export { LONGEST_FORMULA, type Parsed, parseFormula } from './parse.js'
export { type Token, tokenize } from './tokens.js'
export { type Clause, type ClauseKind, childrenOf, type NamePart, namesIn, type Syntax, visitCalls, visitNames } from './tree.js'
