import type { CellValue, ColumnView } from 'mellow-abacus'

/** What a text typed into a cell stands for, or why it is not taken. Nothing typed is blank. */
export function typedValue(text: string, column: ColumnView): { value: CellValue } | { refused: string } {
  if (text === '') return { value: null }
  switch (column.type) {
    case 'number':
    case 'integer': {
      const value = Number(text.trim())
      if (text.trim() === '' || !Number.isFinite(value)) return { refused: `${column.name} holds numbers; "${text}" is none.` }
      if (column.type === 'integer' && !Number.isInteger(value))
        return { refused: `${column.name} holds whole numbers; ${text} would lose its fraction.` }
      return { value }
    }
    case 'boolean':
      return text === 'true' || text === 'false'
        ? { value: text === 'true' }
        : { refused: `${column.name} holds true or false; "${text}" is neither.` }
    case 'date':
      return isDate(text) ? { value: text } : { refused: `${column.name} holds dates like 2026-03-14; "${text}" is none.` }
    default:
      return { value: text }
  }
}

function isDate(text: string): boolean {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) return false
  const time = Date.parse(`${text}T00:00:00Z`)
  return Number.isFinite(time) && new Date(time).toISOString().startsWith(text)
}
