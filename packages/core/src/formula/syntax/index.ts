/**
 * Text to tree: tokens, the parser, and walks over the tree. Parsing never throws and always gives a tree.
 * Start reading at `tree.ts`, then `parse.ts`.
 * @module
 */
export { LONGEST_FORMULA, type Parsed, parseFormula } from './parse.js'
export { DEEPEST } from './reader.js'
export { type Comment, type Token, tokenize } from './tokens.js'
export {
  type ChainLevel,
  type Clause,
  type ClauseKind,
  childrenOf,
  type Mention,
  type NamePart,
  partsOfClause,
  type Syntax,
  visitNames,
} from './tree.js'
