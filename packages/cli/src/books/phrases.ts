import { type Operation, printName } from 'mellow-abacus'
import { counted } from './counted.js'

/** What a step did, for the reader of a history. */
export function operationsPhrase(operations: readonly Operation[]): string {
  const phrases = operations.map(operationPhrase)
  const shown = phrases.slice(0, MOST_PHRASES).join('; ')
  return phrases.length > MOST_PHRASES ? `${shown}; and ${phrases.length - MOST_PHRASES} more` : shown
}

const MOST_PHRASES = 3

const name = (text: unknown): string => printName(String(text))
const idCount = (ids: unknown): number =>
  Array.isArray(ids)
    ? ids.reduce((sum: number, one: unknown) => sum + (typeof one === 'number' ? 1 : (one as { count: number }).count), 0)
    : ((ids as { count?: number } | undefined)?.count ?? 0)

function operationPhrase(operation: Operation): string {
  const of = operation as unknown as Readonly<Record<string, unknown>>
  const at = `${name(of.table)}.${name(of.column)}`
  switch (operation.op) {
    case 'add-table':
      return `table ${name(operation.table)} added with ${counted(operation.columns?.length ?? 0, 'column')}`
    case 'add-column':
      return `${name(operation.table)}.${name(operation.column.name)}${operation.column.formula === undefined ? ' added' : ` = ${operation.column.formula}`}`
    case 'change-column':
      return operation.set.formula === undefined
        ? `${at}: ${Object.keys(operation.set).join(', ')} set`
        : `${at} = ${operation.set.formula}`
    case 'insert-rows':
      return `${counted(operation.rows?.length ?? idCount(operation.ids), 'row')} added to ${name(operation.table)}`
    case 'remove-rows':
      return `${counted(idCount(operation.rows), 'row')} removed from ${name(operation.table)}`
    case 'set-cells':
      return setPhrase(operation.table, operation.cells)
    case 'add-link':
      return `link ${name(operation.table)}.${operation.columns.map(name).join(', ')} -> ${name(operation.to)}.${operation.keys.map(name).join(', ')}`
    case 'set-value':
      return `value ${name(operation.name)} = ${operation.formula ?? JSON.stringify(operation.value)}`
    case 'set-tally':
      return `tally ${name(operation.table)}.${name(operation.name)} = ${operation.formula}`
    case 'set-rule':
      return `rule ${name(operation.name)} of ${name(operation.table)}: ${operation.condition}`
    case 'set-stamp':
      return operation.stamp === null
        ? `${at} is no stamp any more`
        : `stamp ${at} when ${operation.stamp.when.map(name).join(', ')}`
    case 'accept-finding':
      return `finding ${operation.code} accepted: ${operation.because}`
    case 'change-table':
      return `${name(operation.table)}: ${Object.keys(operation.set).join(', ')} set`
    case 'rename-column':
    case 'rename-table':
      return `${operation.op === 'rename-column' ? at : name(operation.table)} renamed to ${name(operation.to)}`
    default: {
      const what = operation.op.replaceAll('-', ' ')
      const named = [of.table, of.column ?? of.name].filter((one) => one !== undefined).map(name)
      const where = named.length === 0 ? '' : ` ${named.join('.')}`
      return what + where
    }
  }
}

function setPhrase(
  table: string,
  cells: readonly { readonly row: unknown; readonly column: unknown; readonly value?: unknown }[],
): string {
  const [first] = cells
  if (first !== undefined && cells.length === 1)
    return `${name(table)}.${name(first.column)} of row id:${String(first.row)} set to ${JSON.stringify(first.value)}`
  const columns = [...new Set(cells.map((cell) => name(cell.column)))]
  return `${counted(cells.length, 'cell')} of ${name(table)} set (${columns.slice(0, MOST_PHRASES).join(', ')})`
}
