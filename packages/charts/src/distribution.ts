import { CellFault, type ColumnView, counted, type ShownValue } from 'mellow-abacus'
import { type Drawing, type DrawingOptions, drawingOf } from './drawing.js'
import { textWidth } from './text-width.js'
import { type Json, SIZES, seriesColour, type Theme } from './theme.js'
import { quantityTitle } from './words/quantity-words.js'

/** How a distribution is to be drawn. */
export interface DistributionOptions extends DrawingOptions {
  /** The table of the column, for the head of the drawing. */
  readonly table: string
}

const WIDTH = 480
const HEIGHT = 220
/** Steps that numbers and times are counted in, about. */
const BINS = 30
/** Commonest values of texts that are drawn. */
const MOST_VALUES = 20
const MS_PER_DAY = 86_400_000

/** How often the values of a column occur: of numbers and times in steps, of texts the commonest. */
export function distributionDrawing(column: ColumnView, options: DistributionOptions): Drawing {
  const { theme = 'light', locale = 'en', width = WIDTH, height = HEIGHT, table } = options
  const { rows, values, blanks, errors } = column.summary()
  const cells = column.values().filter((cell) => cell !== null && !(cell instanceof CellFault))
  const isTime = column.type === 'date' || column.type === 'datetime'
  const isNumber = column.type === 'number' || column.type === 'integer'
  const { name, properties } = column
  const title = quantityTitle(name, { unit: properties.unit ?? null, properties })
  const { view, points } = isTime || isNumber ? stepsOf(cells, column.type as string, title) : commonest(cells, title)
  const notes = blanks + errors === 0 ? [] : [`${counted(blanks, 'blank')} and ${counted(errors, 'error')} are not drawn.`]
  const words = {
    title: `Distribution of ${properties.heading ?? name}`,
    subtitle: [`${table}.${name}: ${counted(values, 'value')} in ${counted(rows, 'row')}`],
    notes,
  }
  const views = (wanted: Theme): Json[] => [
    { width, height, ...view, mark: { type: 'bar', color: seriesColour(0, wanted), ...(view.mark as object) } },
  ]
  return drawingOf(words, points, views, { width, theme, locale })
}

interface Counted {
  readonly view: Json
  readonly points: readonly Json[]
}

const COUNT = { field: 'rows', type: 'quantitative', axis: { title: ['rows'], tickMinStep: 1, format: ',d' } }

/** Counts in equal steps of a round width. */
function stepsOf(cells: readonly ShownValue[], type: string, title: string): Counted {
  const isTime = type === 'date' || type === 'datetime'
  const numbers = Float64Array.from(cells, (cell) => (isTime ? msOf(String(cell)) : Number(cell)))
  const [least, most] = numbers.reduce(([a, b], value) => [Math.min(a, value), Math.max(b, value)], [
    Number.POSITIVE_INFINITY,
    Number.NEGATIVE_INFINITY,
  ] as [number, number])
  const step = roundStep((most - least) / BINS, type)
  const from = Math.floor(least / step)
  const counts = new Map<number, number>()
  for (const value of numbers) {
    const bin = Math.floor(value / step) - from
    counts.set(bin, (counts.get(bin) ?? 0) + 1)
  }
  const at = (edge: number): number | string => (isTime ? new Date(edge).toISOString() : Number(edge.toPrecision(12)))
  const points = [...counts]
    .sort(([a], [b]) => a - b)
    .map(([bin, rows]) => ({ x: at((from + bin) * step), to: at((from + bin + 1) * step), rows }))
  const x = {
    field: 'x',
    type: isTime ? 'temporal' : 'quantitative',
    scale: isTime ? { type: 'utc' } : { zero: false },
    axis: { title: [title], labelOverlap: true },
  }
  return { view: { mark: { binSpacing: 1 }, encoding: { x, x2: { field: 'to' }, y: COUNT, y2: { datum: 0 } } }, points }
}

function msOf(text: string): number {
  return Date.parse(text.includes('T') && !text.endsWith('Z') ? `${text}Z` : text)
}

/** Steps of times within a day, in minutes. */
const MINUTES = [1, 2, 5, 10, 15, 30, 60, 120, 180, 360, 720]
const MS_PER_MINUTE = 60_000

/** A round step of at least the width given: of times so many minutes or whole days, else 1, 2 or 5 times a power of ten. */
function roundStep(width: number, type: string): number {
  const within = type === 'datetime' ? MINUTES.find((one) => one * MS_PER_MINUTE >= width) : undefined
  if (within !== undefined) return within * MS_PER_MINUTE
  if (type === 'date' || type === 'datetime') return Math.max(1, Math.ceil(width / MS_PER_DAY) || 1) * MS_PER_DAY
  if (!(width > 0)) return 1
  const power = 10 ** Math.floor(Math.log10(width))
  const step = ([1, 2, 5, 10].find((one) => one * power >= width) ?? 10) * power
  return type === 'integer' ? Math.max(1, Math.ceil(step)) : step
}

/** The commonest values, the others together. */
function commonest(cells: readonly ShownValue[], title: string): Counted {
  const counts = new Map<string, number>()
  for (const cell of cells) counts.set(String(cell), (counts.get(String(cell)) ?? 0) + 1)
  const sorted = [...counts].sort((a, b) => b[1] - a[1])
  const shown = sorted.slice(0, MOST_VALUES)
  const rest = sorted.slice(MOST_VALUES)
  const others = rest.reduce((sum, [, count]) => sum + count, 0)
  const named: [string, number][] = others === 0 ? shown : [...shown, [`(${counted(rest.length, 'other')})`, others]]
  const points = named.map(([x, rows]) => ({ x, rows }))
  const widest = Math.max(0, ...points.map(({ x }) => textWidth(x, SIZES.label)))
  const y = {
    field: 'x',
    type: 'nominal',
    scale: { domain: points.map(({ x }) => x) },
    axis: { title: [title], minExtent: Math.ceil(widest) },
  }
  const view = { height: { step: 18 }, encoding: { y, x: COUNT } }
  return { view, points }
}
