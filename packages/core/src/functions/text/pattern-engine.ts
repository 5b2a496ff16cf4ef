import type { RE2JS } from 're2js'
import { refusal } from '../../findings/index.js'
import { moduleOfNode } from '../../values/index.js'

// Patterns run on RE2, which takes time in proportion to the text whatever the pattern is (Cox, "Regular Expression Matching in
// the Wild", 2010). Its engine is as large as half of the rest of the library, so it is loaded when a pattern is first used: in
// Node by itself, in browsers by `loadPatterns`.

/** What of the engine is used. */
export interface PatternEngine {
  readonly RE2JS: { compile(pattern: string): RE2JS }
  readonly RE2JSSyntaxException: new (...args: never[]) => Error
}

let loaded: PatternEngine | null = null

/**
 * Loads what runs patterns (`matches`, `capture`, `replace_pattern`). In a browser it has to be awaited once before a formula
 * with a pattern is used; in Node it need not be called.
 */
export async function loadPatterns(): Promise<void> {
  loaded ??= await import('re2js')
}

/** True when patterns can be used. */
export function hasPatterns(): boolean {
  loaded ??= moduleOfNode('re2js') as PatternEngine | null
  return loaded !== null
}

/**
 * What runs patterns.
 *
 * @throws Refusal when it is not loaded
 */
export function patternEngine(): PatternEngine {
  if (!hasPatterns()) throw refusal('patterns-not-loaded')
  return loaded as PatternEngine
}
