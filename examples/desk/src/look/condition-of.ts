import type { SessionValue } from '@mellow-abacus/session'

/** The condition that keeps some values of a column. */
export function conditionOf(name: string, values: readonly SessionValue[], isDate = false): string {
  const written = values.flatMap((value) => {
    if (value === null || typeof value === 'object') return []
    return [typeof value === 'string' ? (isDate ? `@${value}` : `'${value.replaceAll("'", "''")}'`) : String(value)]
  })
  const some = written.length === 0 ? '' : written.length === 1 ? `${name} = ${written[0]}` : `${name} in (${written.join(', ')})`
  return [some, values.includes(null) ? `${name} is blank` : ''].filter((part) => part !== '').join(' or ')
}
