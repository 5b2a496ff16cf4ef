import * as v from 'valibot'
import { readGiven, Text } from '../schemas/index.js'
import { ROLES, type Role } from './roles.js'

const readerOptions = v.strictObject({
  role: v.optional(v.picklist(ROLES), 'read'),
  groups: v.optional(v.array(Text), []),
  author: v.optional(Text),
})

/** Reads who a reader is. */
export function readReaderOptions(given: unknown): {
  readonly role: Role
  readonly groups: readonly string[]
  readonly author?: string | undefined
} {
  return readGiven('the options of the reader', readerOptions, given)
}
