import { counted, type Operation, printName } from 'mellow-abacus'

/** What a step did, for the reader of a history. */
export function operationsPhrase(operations: readonly Operation[]): string {
  if (operations.length === 0) return 'nothing'
  const phrases = operations.map(operationPhrase)
  const shown = phrases.slice(0, MOST_PHRASES).join('; ')
  return phrases.length > MOST_PHRASES ? `${shown}; and ${phrases.length - MOST_PHRASES} more` : shown
}

const MOST_PHRASES = 3

/** A formula of several lines as one. */
const oneLine = (formula: string): string => formula.replace(/\s*\n\s*/g, ' ').trim()
const name = (text: unknown): string => printName(String(text))
/** How many ids a list of them has, however it is written. */
export const idCount = (ids: unknown): number =>
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
      return `${name(operation.table)}.${name(operation.column.name)}${operation.column.formula === undefined ? ' added' : ` = ${oneLine(operation.column.formula)}`}`
    case 'change-column':
      return changePhrase(at, operation.set)
    case 'insert-rows':
      return `${counted(operation.rows?.length ?? idCount(operation.ids), 'row')} added to ${name(operation.table)}`
    case 'remove-rows':
      return `${counted(idCount(operation.rows), 'row')} removed from ${name(operation.table)}`
    case 'set-cells':
      return setPhrase(operation.table, operation.cells)
    case 'add-link':
      return `link ${name(operation.table)}.${operation.columns.map(name).join(', ')} -> ${name(operation.to)}.${operation.keys.map(name).join(', ')}`
    case 'set-value':
      return `value ${name(operation.name)} = ${operation.formula === undefined ? JSON.stringify(operation.value) : oneLine(operation.formula)}`
    case 'set-tally':
      return `tally ${name(operation.table)}.${name(operation.name)} = ${oneLine(operation.formula)}`
    case 'set-rule':
      return `rule ${name(operation.name)} of ${name(operation.table)}: ${oneLine(operation.condition)}`
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
    case 'remove-column':
      return `${at} removed${operation.dependants === undefined ? '' : operation.dependants === 'detach' ? ', what read it detached' : ' with all that is calculated from it'}`
    case 'remove-table':
      return `table ${name(operation.table)} removed`
    case 'remove-link':
      return `link ${name(operation.table)}.${name(operation.name)} removed`
    case 'remove-value':
      return `value ${name(operation.name)} removed`
    case 'remove-tally':
      return `tally ${name(operation.table)}.${name(operation.name)} removed`
    case 'remove-rule':
      return `rule ${name(operation.name)} removed`
    case 'withdraw-acceptance':
      return `finding ${operation.code} no longer accepted`
    case 'stamp-cells':
      return `${at} stamped on ${counted(idCount(operation.rows), 'row')}`
    case 'detach-column':
      return `${at} detached: its values stay, its formula is gone`
    case 'pause-column':
      return `${at} paused: its cells can be typed over`
    case 'resume-column':
      return `${at} calculates again`
    case 'move-column':
      return `${at} moved ${operation.before === undefined ? 'to the end' : `before ${name(operation.before)}`}`
    case 'move-rows':
      return `${counted(idCount(operation.rows), 'row')} of ${name(operation.table)} moved`
    case 'reread-rows':
      return `${name(operation.table)} read again`
    case 'recalculate':
      return operation.columns === undefined ? 'all that was stale calculated' : `${operation.columns.join(', ')} calculated`
    case 'set-mode':
      return operation.mode === 'live' ? 'calculation live' : 'calculation on demand'
    case 'fill-column':
      return operation.formula === undefined
        ? `${at} filled with ${counted(operation.values?.length ?? 0, 'value')}`
        : `${at} filled once with ${oneLine(operation.formula)}`
    case 'set-report':
      return `report ${name(operation.name)} of ${name(operation.report.table)} kept`
    case 'remove-report':
      return `report ${name(operation.name)} removed`
    case 'set-function':
      return `function ${operation.name}(${operation.parameters.join(', ')}) = ${oneLine(operation.formula)}`
    case 'remove-function':
      return `function ${operation.name} removed`
    case 'rename-function':
      return `function ${operation.name} renamed to ${operation.to}`
    case 'set-chart':
      return `chart ${name(operation.name)} of ${name(operation.chart.table ?? operation.chart.report ?? '')} kept`
    case 'remove-chart':
      return `chart ${name(operation.name)} removed`
    case 'set-metadata':
      return `note ${operation.name} of the program around it ${operation.value === null ? 'removed' : 'set'}`
    case 'set-surroundings':
      return [
        ...(operation.zone === undefined ? [] : [`zone ${operation.zone}`]),
        ...(operation.locale === undefined ? [] : [`locale ${operation.locale}`]),
      ].join(', ')
    case 'tick':
      return `clock moved to ${String(operation.now)}, seed ${String(operation.seed)}`
    default:
      return assertNever(operation)
  }
}

function assertNever(operation: never): never {
  throw new TypeError(`no phrase for ${JSON.stringify(operation)}`)
}

/** What is set, and to what where that is short: `unit kg`, `type date`, `note set`. */
function changePhrase(at: string, set: Readonly<Record<string, unknown>>): string {
  if (typeof set.formula === 'string') return `${at} = ${oneLine(set.formula)}`
  const { hidden, hiddenFrom, fixed, ...others } = set
  const rest = Object.entries(others).map(([key, value]) => {
    const property = key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
    if (value === null) return `no ${property} any more`
    const text = Array.isArray(value) ? value.join(', ') : String(value)
    return text.length <= LONGEST_VALUE ? `${property} ${text}` : `${property} set`
  })
  const shown = hidden === undefined ? [] : [hidden === true ? `${at} hidden` : `${at} shown again`]
  if (hiddenFrom === null) shown.push(`${at} hidden from no group any more`)
  if (Array.isArray(hiddenFrom)) shown.push(`${at} hidden from ${hiddenFrom.map(name).join(', ')}`)
  if (fixed !== undefined) shown.push(`${at} ${fixed === true ? 'fixed' : 'no longer fixed'}`)
  return [...shown, ...(rest.length === 0 ? [] : [`${at}: ${rest.join(', ')}`])].join('; ')
}

/** Characters of a property's value that a history quotes. */
const LONGEST_VALUE = 40

/** A value as it was typed. */
function valuePhrase(value: unknown): string {
  if (value === null) return 'blank'
  if (typeof value === 'object' && value !== null && 'misfit' in value)
    return `${JSON.stringify(value.misfit)}, which does not fit`
  return JSON.stringify(value)
}

function setPhrase(
  table: string,
  cells: readonly { readonly row: unknown; readonly column: unknown; readonly value?: unknown }[],
): string {
  const [first] = cells
  if (first !== undefined && cells.length === 1)
    return `${name(table)}.${name(first.column)} of row id:${String(first.row)} set to ${valuePhrase(first.value)}`
  const columns = [...new Set(cells.map((cell) => name(cell.column)))]
  return `${counted(cells.length, 'cell')} of ${name(table)} set (${columns.slice(0, MOST_PHRASES).join(', ')})`
}
