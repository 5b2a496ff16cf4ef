import { type Refusal, refusal } from '../../findings/index.js'
import { tokenize } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import { plainName, seriesName } from '../model/index.js'
import { splitAtCommas } from '../reports/index.js'
import type { ChartDefinition, ChartFit, ChartOrder, ChartSeries, SeriesKind } from '../schemas/index.js'

/** What a chart is made of, as people type it. */
export interface ChartTexts {
  readonly x?: string
  /** Series by how they are drawn: columns or formulas, each with a name if wanted: `kinetic, all = a + b`. */
  readonly line?: readonly string[]
  readonly point?: readonly string[]
  readonly bar?: readonly string[]
  readonly area?: readonly string[]
  /** Names of the series whose axis stands on the right; what is no series yet is drawn as a line there. */
  readonly right?: readonly string[]
  /** `height: 2` of degree 2, or `height: -4.9, 0, 1.8` with given coefficients. */
  readonly fit?: string
  readonly residuals?: boolean
  /** Name of a series, or `x`, with `asc` or `desc` if wanted. */
  readonly order?: string
  readonly level?: string
  readonly title?: string
  /** Colours of series: `kinetic: #0a6470`. */
  readonly colors?: readonly string[]
}

const KINDS: readonly SeriesKind[] = ['area', 'bar', 'line', 'point']

/**
 * Makes of what was typed what `set-chart` takes, but for the table or report.
 *
 * @throws Refusal for what is not understood, and where there is no series
 */
export function chartOfTexts(texts: ChartTexts): Omit<ChartDefinition, 'table' | 'report'> {
  const series: ChartSeries[] = KINDS.flatMap((kind) =>
    (texts[kind] ?? []).flatMap((text) => seriesIn(text).map((one) => ({ ...one, kind }))),
  )
  const right = (texts.right ?? []).flatMap(seriesIn)
  const isRight = (one: ChartSeries): boolean =>
    right.some((other) => foldName(seriesName({ ...other, kind: 'line' })) === foldName(seriesName(one)))
  const isKnown = (name: string): boolean => series.some((one) => foldName(seriesName(one)) === foldName(name))
  const added = right.map((one): ChartSeries => ({ ...one, kind: 'line' })).filter((one) => !isKnown(seriesName(one)))
  const colors = new Map((texts.colors ?? []).map(colorIn))
  const all = [...series, ...added].map((one): ChartSeries => {
    const color = colors.get(foldName(seriesName(one)))
    colors.delete(foldName(seriesName(one)))
    return { ...one, ...(isRight(one) && { axis: 'right' }), ...(color !== undefined && { color }) }
  })
  const [stray] = colors.keys()
  if (stray !== undefined) throw unread(`a colour was given for ${JSON.stringify(stray)}, which is no series.`)
  if (all.length === 0) throw unread('nothing is drawn: name what, such as a line of honey_kg.')
  const { x, fit, residuals, order, level, title } = texts
  if (residuals === true && fit === undefined) throw unread('residuals are what a curve leaves, and there is no fit.')
  return {
    ...(x !== undefined && { x }),
    series: all,
    ...(level !== undefined && { level }),
    ...(order !== undefined && { order: orderIn(order) }),
    ...(fit !== undefined && { fit: { ...fitIn(fit), ...(residuals === true && { residuals }) } }),
    ...(title !== undefined && { title }),
  }
}

/** Words by which a chart says its parts in one text. */
const PARTS = ['x', 'line', 'point', 'bar', 'area', 'right', 'fit', 'order', 'level', 'title'] as const

/**
 * Reads a chart written as one text: `x: day, line: a, b, right: b`.
 *
 * @throws Refusal for a text that does not begin with a part
 */
export function parseChart(text: string): ChartTexts {
  const found: { part: (typeof PARTS)[number]; text: string }[] = []
  for (const piece of splitAtCommas(text)) {
    const [, word = '', rest = ''] = /^\s*(\w+)\s*:(.*)$/s.exec(piece) ?? []
    const part = PARTS.find((one) => one === word)
    const last = found.at(-1)
    if (part !== undefined) found.push({ part, text: rest.trim() })
    else if (last === undefined)
      throw unread(`expected parts like "x: day, line: a, b", with ${PARTS.join(', ')}; found ${JSON.stringify(text)}.`)
    else last.text += `,${piece}`
  }
  const texts: Record<string, string | string[]> = {}
  for (const { part, text: value } of found) {
    if (part === 'x' || part === 'fit' || part === 'order' || part === 'level' || part === 'title') texts[part] = value
    else texts[part] = [...(texts[part] ?? []), value]
  }
  return texts
}

/** A refusal of what was typed for a chart. */
function unread(reason: string): Refusal {
  return refusal('bad-operation', { place: 'The chart', reason })
}

function seriesIn(text: string): Pick<ChartSeries, 'name' | 'formula'>[] {
  return splitAtCommas(text).map((part) => {
    const { tokens } = tokenize(part)
    const [name, sign] = tokens
    if (part.trim() === '')
      throw unread(`expected names or formulas like "honey_kg, missed = plan - honey_kg", found ${JSON.stringify(text)}.`)
    if (name?.kind !== 'name' || sign?.kind !== 'sign' || sign.sign !== '=') return { formula: part.trim() }
    return { name: name.name, formula: part.slice(sign.to).trim() }
  })
}

function fitIn(text: string): ChartFit {
  const [, series = text, numbers = '1'] = /^(.*):([^:]*)$/s.exec(text) ?? []
  const values = numbers.split(',').map((one) => (one.trim() === '' ? Number.NaN : Number(one)))
  if (series.trim() === '' || values.some((value) => !Number.isFinite(value)))
    throw unread(`expected a fit like "height: 2" or "height: -4.9, 0, 1.8", found ${JSON.stringify(text)}.`)
  const [degree] = values
  const name = plainName(series)
  return values.length === 1 ? { series: name, degree: degree as number } : { series: name, coefficients: values }
}

function orderIn(text: string): ChartOrder {
  const [, by = '', word] = /^(.*?)(?:\s+(asc|desc))?\s*$/s.exec(text) ?? []
  return { by: plainName(by), ...(word === 'desc' && { descending: true }) }
}

function colorIn(text: string): [string, string] {
  const [, name = '', color = ''] = /^(.*):\s*(#[0-9a-f]{6})\s*$/is.exec(text) ?? []
  if (color === '') throw unread(`expected a colour like "honey_kg: #0a6470", found ${JSON.stringify(text)}.`)
  return [foldName(plainName(name)), color]
}
