import { type EditKey, SessionFault } from '@mellow-abacus/session'
import type { KeptAnswer } from './held-book.js'

/** Milliseconds for which an answer is kept: a day. */
const KEPT_MS = 86_400_000
/** Characters of an answer that is kept whole. */
const MOST_KEPT = 1_000_000

/** Where answers are kept, together with what they are about. */
export interface AnswerStore {
  answerTo(key: string): KeptAnswer | undefined
  keepAnswer(key: string, answer: KeptAnswer, keptSince: number): void
}

/**
 * Does something that is asked for under a key once: asked for again, it is answered as before.
 *
 * @param seen - what the reader may see, as a text
 * @param shortened - what is kept of an answer that is too long
 * @throws SessionFault `key-reused` where something else was asked for under the key, `view-changed` where the reader may see
 *   something else now than the answer was made for
 */
export function answeredOnce<Answer>(
  store: AnswerStore,
  { name, fingerprint }: EditKey,
  { seen, shortened }: { readonly seen: string; readonly shortened: (answer: Answer) => Answer },
  work: () => Answer,
): Answer {
  const now = Date.now()
  const known = store.answerTo(name)
  if (known !== undefined && known.at > now - KEPT_MS) {
    if (known.fingerprint !== fingerprint) throw new SessionFault({ code: 'key-reused', message: REUSED })
    if (known.seen !== seen) throw new SessionFault({ code: 'view-changed', message: CHANGED })
    return JSON.parse(known.answer) as Answer
  }
  const answer = work()
  const whole = JSON.stringify(answer)
  const kept = whole.length > MOST_KEPT ? JSON.stringify(shortened(answer)) : whole
  store.keepAnswer(name, { fingerprint, seen, at: now, answer: kept }, now - KEPT_MS)
  return answer
}

const REUSED = 'This idempotency key was used for something else. Use a new one for each thing that is asked for.'
const CHANGED = 'It was done, but what you may see has changed since, so the answer cannot be given again.'
