import { createHash } from 'node:crypto'

/**
 * The tag of a row (RFC 9110, 8.8.3): a strong one of what this reader gets, calculated values among it. What they do not see is
 * not in it.
 */
export function tagOf(cells: object): string {
  return `"${createHash('sha256').update(JSON.stringify(cells)).digest('base64url').slice(0, 27)}"`
}

/** True where a condition names a tag, or any. */
export function namesTag(condition: string, tag: string): boolean {
  return condition.trim() === '*' || condition.split(',').some((one) => one.trim() === tag)
}

/** True where a condition of a read names a tag, for which weak ones are good enough. */
export function namesTagWeakly(condition: string, tag: string): boolean {
  return condition.trim() === '*' || condition.split(',').some((one) => one.trim().replace(/^W\//, '') === tag)
}
