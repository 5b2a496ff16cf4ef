import { createHash, randomBytes, randomUUID, timingSafeEqual } from 'node:crypto'
import { chmodSync, existsSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROLES, type Role } from 'mellow-abacus'
import * as v from 'valibot'
import type { Caller } from './caller.js'

/** The file of the tokens, in the folder of the workbooks. */
export const TOKEN_FILE = 'tokens.json'

const TokenEntry = v.strictObject({
  id: v.string(),
  /** Whose it is; the author of what is done with it. */
  name: v.string(),
  /** SHA-256 of the token: 256 random bits need no slower hash. */
  hash: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  books: v.array(v.string()),
  role: v.picklist(ROLES),
  groups: v.array(v.string()),
  operator: v.boolean(),
  made: v.string(),
  /** The last day that it is good on, or a moment; null for no end. */
  until: v.nullable(v.string()),
})
const TokenFileShape = v.strictObject({ tokens: v.array(TokenEntry) })

/** A token as it is kept: never the token itself. */
export type KeptToken = v.InferOutput<typeof TokenEntry>

/** What a new token is for. */
export interface NewToken {
  readonly name: string
  /** Names of workbooks; `*` for all. */
  readonly books: readonly string[]
  readonly role: Role
  readonly groups?: readonly string[]
  readonly operator?: boolean
  /** An ISO 8601 date or moment. */
  readonly until?: string
}

/** Thrown where the tokens cannot be read, or one cannot be made. */
export class TokenFault extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'TokenFault'
  }
}

/** Milliseconds after which the file is looked at again: a token that is withdrawn is good no longer than that. */
const LOOKED_MS = 250

/** The tokens of a folder, as they are in its file. */
export class TokenFile {
  readonly path: string
  #read: { readonly stamp: string; readonly tokens: readonly KeptToken[] } | null = null
  #lookedAt = Number.NEGATIVE_INFINITY

  constructor(folder: string) {
    this.path = join(folder, TOKEN_FILE)
  }

  /** True where a token was ever made, as it was when it was last looked. */
  get isThere(): boolean {
    this.#known()
    return this.#read !== null
  }

  /**
   * The tokens that there are.
   *
   * @throws TokenFault where the file is not what was written
   */
  list(): readonly KeptToken[] {
    const found = statSync(this.path, { throwIfNoEntry: false })
    this.#lookedAt = performance.now()
    if (found === undefined) {
      this.#read = null
      return []
    }
    const stamp = `${found.ino} ${found.mtimeMs} ${found.size}`
    if (this.#read?.stamp === stamp) return this.#read.tokens
    const read = v.safeParse(TokenFileShape, jsonOf(readFileSync(this.path, 'utf8')))
    if (!read.success) throw new TokenFault(`${this.path} is not a file of tokens.`)
    this.#read = { stamp, tokens: read.output.tokens }
    return read.output.tokens
  }

  /** The tokens as they were when it was last looked, a moment ago at most. */
  #known(): readonly KeptToken[] {
    return performance.now() - this.#lookedAt < LOOKED_MS ? (this.#read?.tokens ?? []) : this.list()
  }

  /**
   * Makes a token.
   *
   * @returns the token itself, which is told this once
   * @throws TokenFault for a date that is none
   */
  add({ name, books, role, groups = [], operator = false, until }: NewToken): {
    readonly token: string
    readonly kept: KeptToken
  } {
    if (until !== undefined && Number.isNaN(endOf(until))) throw new TokenFault(`${JSON.stringify(until)} is no date (ISO 8601).`)
    const token = randomBytes(32).toString('base64url')
    const id = randomUUID().slice(0, 8)
    const made = new Date().toISOString()
    const kept: KeptToken = {
      id,
      name,
      hash: hashOf(token).toString('hex'),
      books: [...books],
      role,
      groups: [...groups],
      operator,
      made,
      until: until ?? null,
    }
    this.#write([...this.list(), kept])
    return { token, kept }
  }

  /**
   * Takes a token back by its id, or all of a name.
   *
   * @returns those that were taken back
   */
  withdraw(idOrName: string): readonly KeptToken[] {
    const isMeant = ({ id, name }: KeptToken): boolean => id === idOrName || name === idOrName
    const withdrawn = this.list().filter(isMeant)
    if (withdrawn.length > 0) this.#write(this.list().filter((one) => !isMeant(one)))
    return withdrawn
  }

  /** Who shows a token; undefined for one that there is not, or not any more. */
  callerOf(token: string): Caller | undefined {
    const hash = hashOf(token)
    // One that is not known may just have been made.
    const found = foundIn(this.#known(), hash) ?? foundIn(this.list(), hash)
    if (found === undefined) return undefined
    const until = found.until === null ? Number.POSITIVE_INFINITY : endOf(found.until)
    if (until <= Date.now()) return undefined
    return {
      id: found.id,
      author: found.name,
      roles: new Map(found.books.map((book) => [book, found.role])),
      groups: found.groups,
      isOperator: found.operator,
      until,
    }
  }

  #write(tokens: readonly KeptToken[]): void {
    const made = `${this.path}-new`
    writeFileSync(made, `${JSON.stringify({ tokens }, null, 2)}\n`, { mode: 0o600 })
    if (existsSync(this.path)) chmodSync(made, statSync(this.path).mode & 0o777)
    renameSync(made, this.path)
    this.#read = null
    this.#lookedAt = Number.NEGATIVE_INFINITY
  }
}

/** The token of a hash. All are compared, each in the same time whatever differs. */
function foundIn(tokens: readonly KeptToken[], hash: Buffer): KeptToken | undefined {
  let found: KeptToken | undefined
  for (const kept of tokens) if (timingSafeEqual(Buffer.from(kept.hash, 'hex'), hash)) found = kept
  return found
}

function hashOf(token: string): Buffer {
  return createHash('sha256').update(token).digest()
}

/** When a date or moment is over, in milliseconds since 1970; of a date, at its end in UTC. */
function endOf(until: string): number {
  const isDate = /^\d{4}-\d\d-\d\d$/.test(until)
  return isDate ? Date.parse(`${until}T00:00:00Z`) + 86_400_000 : Date.parse(until)
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
