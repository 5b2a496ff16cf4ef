import type Database from 'libsql'
import type { BookRows } from './book-rows.js'

/** An answer that is given again when the same is asked for under the same key. */
export interface KeptAnswer {
  /** What was asked for, as a hash. */
  readonly fingerprint: string
  /** What the one who asked might see, as a text. */
  readonly seen: string
  /** When, in milliseconds since 1970. */
  readonly at: number
  /** The answer as JSON. */
  readonly answer: string
}

/** The answer kept under a key. */
export function answerTo(database: Database.Database, key: string): KeptAnswer | undefined {
  const found = database.prepare('SELECT fingerprint, seen, at, answer FROM answers WHERE key = ?').get(key) as
    | KeptAnswer
    | undefined
  if (found === undefined) return undefined
  const { fingerprint, seen, at, answer } = found
  return { fingerprint, seen, at, answer }
}

/** Keeps an answer under a key, and forgets those from before a time. */
export function keepAnswer(rows: BookRows, key: string, { fingerprint, seen, at, answer }: KeptAnswer, keptSince: number): void {
  // Looked for once in a while: old ones are not given again, they only take room.
  if (at % 100 === 0) rows.dropAnswersBefore(keptSince)
  rows.put('answers', [key, fingerprint, seen, at, answer])
}
