import * as v from 'valibot'
import { refusal } from '../../findings/index.js'

/**
 * Reads something that came from outside.
 *
 * @throws Refusal naming the place and the first field that is wrong or unknown, and what was expected there
 */
export function readGiven<Read>(place: string, shape: v.GenericSchema<unknown, Read>, given: unknown): Read {
  const read = v.safeParse(shape, given, { abortEarly: true })
  if (read.success) return read.output
  const { issue, keys } = mostTelling(read.issues[0], [])
  const path = keys.join('.')
  const isUnknown = isOfKeys(issue) && issue.expected === 'never'
  const isMissing = isOfKeys(issue) && issue.received === 'undefined' && !isUnknown
  const reason = isUnknown ? 'there is no such field.' : isMissing ? 'it is missing.' : `${issue.message.replace(/\.$/, '')}.`
  throw refusal('bad-operation', { place: `${place}${path === '' ? '' : `, field ${path}`}`, reason })
}

type Issue = v.BaseIssue<unknown>

/** What is wrong, down to the field; of several kinds of objects, with the kind whose fields are there. */
function mostTelling(issue: Issue, before: readonly string[]): { readonly issue: Issue; readonly keys: readonly string[] } {
  const keys = [...before, ...(issue.path ?? []).map((item) => String(item.key))]
  const inside = (issue.type === 'union' ? (issue.issues ?? []) : []).filter(({ path }) => path !== undefined)
  const found = inside.find((one) => !isOfKeys(one)) ?? inside[0]
  return found === undefined ? { issue, keys } : mostTelling(found, keys)
}

/** True where a field is missing or unknown, rather than wrong. */
function isOfKeys({ type }: Issue): boolean {
  return type === 'strict_object'
}
