import type { Severity } from './code-record.js'
import { FINDING_CODES, type FindingCode } from './codes.js'

/** Replaces the half-open span `from`..`to` (UTF-16 units of the formula) by `insert`. */
export interface TextEdit {
  readonly from: number
  readonly to: number
  readonly insert: string
}

/** A one-step remedy: a title for the reader and text edits of the formula, or operations of the book. */
export interface Fix {
  readonly title: string
  readonly edits?: readonly TextEdit[]
  readonly operations?: readonly object[]
}

/** What fills the braces of a message. */
export type FindingParameters = Readonly<Record<string, string | number>>

/** A mistake, or something worth a look: data first, with the wording rendered from the registry. */
export interface Finding {
  readonly code: FindingCode
  readonly severity: Severity
  readonly message: string
  readonly parameters: FindingParameters
  readonly table?: string
  readonly column?: string
  /** The report whose view it is about; the column is then one of the view. */
  readonly report?: string
  /** The chart it is about; the column is then one of its series, or `x`. */
  readonly chart?: string
  /** The function of the workbook whose formula it is about. */
  readonly function?: string
  /** Span in the formula, UTF-16 units, half-open. */
  readonly from?: number
  readonly to?: number
  /** Rows affected, where the finding is about data. */
  readonly rows?: number
  readonly fixes: readonly Fix[]
}

/** Where a finding stands and what goes with it. */
export type FindingPlace = Partial<Pick<Finding, 'table' | 'column' | 'function' | 'from' | 'to' | 'rows' | 'fixes'>>

/** Makes a finding of a code; a parameter that is not given prints as nothing. */
export function finding(code: FindingCode, parameters: FindingParameters = {}, place: FindingPlace = {}): Finding {
  const { severity, message } = FINDING_CODES[code]
  const rendered = message.replace(/\{(\w+)\}/g, (_, name: string) => String(parameters[name] ?? ''))
  return { code, severity, message: rendered, parameters, fixes: [], ...place }
}

/** Applies the text edits of a fix to a formula. */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
  let result = text
  for (const edit of [...edits].sort((a, b) => b.from - a.from)) {
    result = result.slice(0, edit.from) + edit.insert + result.slice(edit.to)
  }
  return result
}

/** True when any finding blocks. */
export function hasErrors(findings: readonly Finding[]): boolean {
  return findings.some((one) => one.severity === 'error')
}
