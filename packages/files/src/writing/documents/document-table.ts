import {
  CellFault,
  displayOf,
  type GroupedResult,
  isOfOutline,
  lineLabels,
  outlineHeading,
  type QueryColumn,
  type QueryResult,
  tidyDisplayOf,
  viewHead,
} from 'mellow-abacus'
import type { WritingOptions } from '../formats.js'

/** A column of a document: what stands above it, and how its cells are written. */
export interface DocumentColumn {
  readonly heading: string
  readonly unit: string | null
  readonly isNumber: boolean
  /** What stands in a cell; nothing for a blank one. */
  readonly text: (slot: number) => string
}

/** A line of a document. */
export interface DocumentLine {
  readonly slot: number
  readonly kind: 'row' | 'group' | 'others' | 'whole'
  /** 0 for the whole and for rows that are in no groups. */
  readonly level: number
  /** What it is called, where it stands in an outline. */
  readonly label: string | null
}

/** Rows as a document shows them to people: numbers tidy, groups as an outline. */
export interface DocumentTable {
  /** What the view says of itself; null for plain rows. */
  readonly about: string | null
  /** What stands above the labels; null where there are none. */
  readonly outline: string | null
  readonly columns: readonly DocumentColumn[]
  readonly lines: readonly DocumentLine[]
}

/** Rows for a document. */
export function documentTable(result: QueryResult, options: WritingOptions): DocumentTable {
  const { locale = 'en' } = options
  const isOutline = isOutlined(result)
  const shown = result.columns.filter(({ name }) => !isOutline || !isOfOutline(result, name))
  const labels = isOutline ? lineLabels(result, locale) : []
  return {
    about: isOutline ? viewHead(result) : null,
    outline: isOutline ? outlineHeading(result) : null,
    columns: shown.map((column) => documentColumn(column, result.slots, locale, options.exact === true)),
    lines: Array.from(result.slots, (slot, at): DocumentLine => {
      const { kind = 'row', level = 0 } = isOutline ? (result.lines[at] ?? {}) : {}
      return { slot, kind, level, label: labels[at] ?? null }
    }),
  }
}

/** True for lines in groups, but for the innermost ones alone. */
export function isOutlined(result: QueryResult): result is GroupedResult {
  return 'isFlat' in result && result.isFlat === false
}

function documentColumn(column: QueryColumn, slots: Int32Array, locale: string, exact: boolean): DocumentColumn {
  const { properties, type, storage, calculated } = column
  const show = (exact ? displayOf(column, locale) : tidyDisplayOf(column, slots, locale)) ?? String
  return {
    heading: properties.heading ?? column.name,
    unit: properties.symbol ?? column.unit,
    isNumber: type === 'number' || type === 'integer',
    text: (slot) => {
      const cell = storage?.read(slot) ?? null
      if (cell === null) return ''
      if (cell instanceof CellFault) return !calculated && cell.text !== undefined ? cell.text : String(cell)
      return show(cell)
    },
  }
}
