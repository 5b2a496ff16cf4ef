import type { Scope } from '../check/index.js'

/** What phrases are made from. */
export interface PhraseContext {
  readonly text: string
  readonly scope: Scope
}
