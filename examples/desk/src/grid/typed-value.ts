import type { ColumnFacts, SessionValue } from '@mellow-abacus/session'
import type { CellValue, Operation } from 'mellow-abacus'

/** A number as it is usually typed; what begins with a zero, such as a code, is none. */
const PLAIN_NUMBER = /^\s*[+-]?(?:0|[1-9]\d*)(?:\.\d+)?\s*$/

/** True for a text that is a number to a column which takes its type from its first value. */
export const isPlainNumber = (text: string): boolean => PLAIN_NUMBER.test(text)

/**
 * What a text typed into a cell stands for, or why it is not taken. Nothing typed is blank; a column that has no type yet takes
 * that of the value.
 */
export function typedValue(
  text: string,
  { name, type }: Pick<ColumnFacts, 'name' | 'type'>,
): { value: CellValue } | { refused: string } {
  if (text === '') return { value: null }
  switch (type) {
    case 'number':
    case 'integer': {
      const value = Number(text.trim())
      if (text.trim() === '' || !Number.isFinite(value))
        return { refused: `${name} holds numbers; "${text}" is none. Type one such as 12.5, or nothing for a blank.` }
      if (type === 'integer' && !Number.isInteger(value))
        return { refused: `${name} holds whole numbers; ${text} would lose its fraction.` }
      return { value }
    }
    case 'boolean': {
      const word = text.trim().toLowerCase()
      if (word === 'true' || word === 'yes') return { value: true }
      return word === 'false' || word === 'no'
        ? { value: false }
        : { refused: `${name} holds true or false; "${text}" is neither.` }
    }
    case 'date':
      return isDate(text.trim()) ? { value: text.trim() } : { refused: `${name} holds dates like 2026-03-14; "${text}" is none.` }
    case null:
      return { value: isPlainNumber(text) ? Number(text) : text }
    default:
      return { value: text }
  }
}

/**
 * What is said of columns that have no type yet before dates come into them: a text like 2026-03-14 is a text otherwise.
 *
 * @param texts - what comes into a column
 */
export function datesFirst(
  table: string,
  columns: readonly Pick<ColumnFacts, 'name' | 'type'>[],
  texts: (at: number) => readonly string[],
): Operation[] {
  return columns.flatMap(({ name, type }, at): Operation[] => {
    const given = type === null ? texts(at).filter((text) => text !== '') : []
    const isDates = given.length > 0 && given.every((text) => isDate(text.trim()))
    return isDates ? [{ op: 'change-column', table, column: name, set: { type: 'date' } }] : []
  })
}

function isDate(text: string): boolean {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) return false
  const time = Date.parse(`${text}T00:00:00Z`)
  return Number.isFinite(time) && new Date(time).toISOString().startsWith(text)
}

/** The text that an edit of a cell begins with: the value in full, not as it is shown. */
export function startText(value: SessionValue | undefined): string {
  if (value === null || value === undefined) return ''
  if (typeof value !== 'object') return String(value)
  return 'misfit' in value ? value.misfit : ''
}
