import {
  CellFault,
  type ColumnEffect,
  counted,
  displayNumber,
  type OperationsPreview,
  printName,
  type ShownValue,
} from 'mellow-abacus'
import type { Paint } from '../shell/index.js'
import { followedLines } from './followed.js'

/** A value for the eye. */
export function shownText(value: ShownValue | undefined): string {
  if (value === undefined) return '–'
  if (value === null) return '(blank)'
  if (value instanceof CellFault) return value.text ?? `!${value.code}`
  if (typeof value === 'number') return displayNumber(value)
  return value === '' ? '""' : typeof value === 'string' ? withSpaces(value) : String(value)
}

/** A text whose spaces at its ends, and all but one between words, can be seen. */
function withSpaces(text: string): string {
  const dots = (spaces: string): string => '·'.repeat(spaces.length)
  const clipped = text.length > LONGEST_SHOWN ? `${text.slice(0, LONGEST_SHOWN)}…` : text
  return clipped.replace(/^ +| {2,}| +$/g, dots)
}

/** Characters of a text that a preview shows. */
const LONGEST_SHOWN = 120

/** What operations would do, in a phrase; what would follow, and of each column rows that tell most. */
export function previewText({ change, columns }: OperationsPreview, phrase: string, paint: Paint): string {
  const head = `${paint.strong('preview')}  ${phrase}; nothing is changed\n${followedLines(change, paint).join('')}`
  return `${head}${columns.map((one) => effectText(one, paint)).join('')}`
}

function effectText({ table, column, changed, rows, bytes }: ColumnEffect, paint: Paint): string {
  const name = paint.calculated(`${printName(table)}.${printName(column)}`)
  const head = `${name}: ${counted(changed, 'cell')} would differ, ${counted(bytes, 'byte')}\n`
  const lines = rows.map(({ rowNumber, why, before, result }) => {
    const was = before === undefined ? '' : `${shownText(before)} → `
    return `  ${paint.quiet(`row ${rowNumber}`.padEnd(9))} ${was}${shownText(result)}  ${paint.quiet(why)}\n`
  })
  return head + lines.join('')
}
