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
  const issue = read.issues[0]
  const path = (issue.path ?? []).map((item) => String(item.key)).join('.')
  const isUnknown = issue.type === 'strict_object' && issue.expected === 'never'
  const isMissing = issue.type === 'strict_object' && issue.received === 'undefined' && !isUnknown
  const reason = isUnknown ? 'there is no such field.' : isMissing ? 'it is missing.' : `${issue.message.replace(/\.$/, '')}.`
  throw refusal('bad-operation', { place: `${place}${path === '' ? '' : `, field ${path}`}`, reason })
}
