import { operationsPhrase } from '@mellow-abacus/host'
import { type ColumnUnit, counted, type OperationsPreview, printName } from 'mellow-abacus'
import type { Paint } from '../shell/index.js'
import type { Followed, FollowedCells } from './book-at-hand.js'

const placed = ({ table, column, rows }: FollowedCells): string =>
  `${printName(table)}.${printName(column)} ${counted(rows, 'cell')}`

/** Cells that were calculated, with how many of them are errors: `hives.root 3,201 cells, 47 errors: out-of-range`. */
function calculatedCells(cells: FollowedCells): string {
  const errors = [...(cells.errors?.() ?? [])]
  if (errors.length === 0) return placed(cells)
  const count = errors.reduce((sum, [, rows]) => sum + rows, 0)
  const codes =
    errors.length === 1 ? errors[0]?.[0] : errors.map(([code, rows]) => `${rows.toLocaleString('en')} ${code}`).join(', ')
  return `${placed(cells)}, ${counted(count, 'error')}: ${codes}`
}

/** What a step did, line by line: rows, cells written, cells calculated, cells left stale. */
export function followedText(change: Followed, paint: Paint, turn?: 'undo' | 'redo'): string {
  return `${paint.strong(`revision ${change.revision}`)}  ${turn === undefined ? '' : `${turn}: `}${operationsPhrase(change.operations)}\n${followedLines(change, paint).join('')}`
}

/** The lines of a change set. */
export function followedLines(change: Omit<Followed, 'revision'> | OperationsPreview['change'], paint: Paint): string[] {
  const calculated = new Set(change.recalculated.map(({ table, column }) => `${table}.${column}`))
  const written = change.changed.filter(({ table, column }) => !calculated.has(`${table}.${column}`))
  const line = (what: string, parts: readonly string[]): string[] =>
    parts.length === 0 ? [] : [`  ${paint.quiet(what.padEnd(13))} ${listed(parts)}\n`]
  return [
    ...line(
      'rows added',
      change.inserted.map(({ table, rows }) => `${printName(table)} ${counted(rows, 'row')}`),
    ),
    ...line(
      'rows gone',
      change.removed.map(({ table, ids }) => `${printName(table)} ${counted(ids.length, 'row')}`),
    ),
    ...line('written', change.inserted.length > 0 ? [] : written.map(placed)),
    ...line('recalculated', change.recalculated.map(calculatedCells)),
    ...line('stale', change.stale.map(placed)),
    ...line('other unit', change.units.map(unitChange)),
  ]
}

function unitChange({ table, column, before, after }: ColumnUnit): string {
  return `${printName(table)}.${printName(column)} ${before ?? 'none'} → ${after ?? 'none'}`
}

/** At most twelve parts, and how many more. */
function listed(parts: readonly string[]): string {
  const shown = parts.slice(0, MOST_SHOWN).join(', ')
  return parts.length > MOST_SHOWN ? `${shown}, and ${parts.length - MOST_SHOWN} more` : shown
}

const MOST_SHOWN = 12
