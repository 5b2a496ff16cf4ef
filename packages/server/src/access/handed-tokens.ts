import { createHash, randomBytes } from 'node:crypto'
import type { Caller } from './caller.js'

/** Milliseconds for which an invitation can be taken up. */
const INVITED_MS = 3_600_000

interface Handed {
  readonly caller: Caller
  readonly until: number
}

/** Tokens that are handed out while the server runs, and good no longer than it does: they are written down nowhere. */
export class HandedTokens {
  readonly #tokens: Map<string, Handed> = new Map()
  readonly #invitations: Map<string, Handed> = new Map()

  /** Hands out a token, good for so many milliseconds. */
  hand(caller: Caller, ms: number = Number.POSITIVE_INFINITY): string {
    return keep(this.#tokens, { caller, until: Date.now() + ms })
  }

  /** Makes an invitation, which is exchanged once for a token. */
  invite(caller: Caller): string {
    return keep(this.#invitations, { caller, until: Date.now() + INVITED_MS })
  }

  /** The token for an invitation, with whose it is; undefined for one that is none, or none any more. */
  take(invitation: string): { readonly token: string; readonly caller: Caller } | undefined {
    const key = hashOf(invitation)
    const found = this.#invitations.get(key)
    this.#invitations.delete(key)
    return found === undefined || found.until <= Date.now() ? undefined : { token: this.hand(found.caller), caller: found.caller }
  }

  /** Who shows a token; undefined for one that is not good. */
  callerOf(token: string): Caller | undefined {
    const found = this.#tokens.get(hashOf(token))
    return found === undefined || found.until <= Date.now() ? undefined : found.caller
  }
}

/** Keeps what is handed out under the hash of 256 random bits, and forgets what is not good any more. */
function keep(kept: Map<string, Handed>, handed: Handed): string {
  for (const [key, { until }] of kept) if (until <= Date.now()) kept.delete(key)
  const text = randomBytes(32).toString('base64url')
  kept.set(hashOf(text), handed)
  return text
}

/** What is looked up is the hash: how long that takes tells nothing of the text. */
function hashOf(text: string): string {
  return createHash('sha256').update(text).digest('base64')
}
