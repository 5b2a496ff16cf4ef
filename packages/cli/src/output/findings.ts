import { caretLines, type Finding, printName } from 'mellow-abacus'
import type { Paint } from '../shell/index.js'

/** Where a finding stands, for the reader: a file, an option, or `table.column`. */
export function placeOf(finding: Finding, fallback: string): string {
  const { report, chart } = finding
  const view = chart === undefined ? report : chart
  if (view !== undefined) {
    const kind = chart === undefined ? 'report' : 'chart'
    return `${kind}:${printName(view)}${finding.column === undefined ? '' : `.${printName(finding.column)}`}`
  }
  if (finding.function !== undefined) return `function:${finding.function}`
  if (finding.table === undefined) return fallback
  if (finding.column?.startsWith('--') === true) return finding.column
  return finding.column === undefined ? finding.table : `${finding.table}.${printName(finding.column)}`
}

/**
 * A finding as the terminal shows it: `<where>: <severity> <code>: <message>`, the line of the formula, and carets under the
 * place; then the first fix, where there is one.
 */
export function findingText(finding: Finding, where: string, formula: string | undefined, paint: Paint): string {
  const head = `${paint.strong(where)}: ${paint[finding.severity](`${finding.severity} ${finding.code}`)}: ${finding.message}`
  if (formula === undefined || finding.from === undefined || finding.to === undefined) return `${head}\n`
  const { line, carets } = caretLines(formula, finding.from, finding.to)
  const fix = finding.fixes[0]
  const insert = fix?.edits?.[0]?.insert
  const remedy =
    fix === undefined
      ? ''
      : `  ${paint.quiet(`fix: ${fix.title}${insert === undefined || insert.length > 110 || fix.title.includes(insert.trim()) ? '' : ` (${insert.trim()})`}`)}\n`
  return `${head}\n  ${line}\n  ${paint[finding.severity](carets)}\n${remedy}`
}

/** Findings as JSON, for programs: an array, with exactly these keys. */
export function findingsJson(findings: readonly Finding[]): string {
  const records = findings.map(({ code, severity, message, table, column, from, to, rows, fixes }) => ({
    code,
    severity,
    message,
    table: table ?? null,
    column: column ?? null,
    from: from ?? null,
    to: to ?? null,
    rows: rows ?? null,
    fixes,
  }))
  return `${JSON.stringify(records, null, 2)}\n`
}
