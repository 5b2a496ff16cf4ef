import type { CodeRecord } from './code-record.js'
import { CODES_OF_DATA } from './codes-of-data.js'
import { CODES_OF_NAMES } from './codes-of-names.js'
import { CODES_OF_OPERATIONS } from './codes-of-operations.js'
import { CODES_OF_TEXT } from './codes-of-text.js'

const codes = { ...CODES_OF_TEXT, ...CODES_OF_NAMES, ...CODES_OF_DATA, ...CODES_OF_OPERATIONS }

/** Code of a finding or refusal. */
export type FindingCode = keyof typeof codes

/**
 * The one registry of findings and refusals. A code says what happened in plain words, is never reused, and carries its
 * wording here only; the one who raises it gives parameters.
 */
export const FINDING_CODES: Readonly<Record<FindingCode, CodeRecord>> = codes

/** The codes by what they are about, as the reference lists them. */
export const CODE_GROUPS: readonly (readonly [title: string, codes: Readonly<Record<string, CodeRecord>>])[] = [
  ['The text of a formula', CODES_OF_TEXT],
  ['Names, types and forms', CODES_OF_NAMES],
  ['What constants and data do', CODES_OF_DATA],
  ['Refused operations', CODES_OF_OPERATIONS],
]
