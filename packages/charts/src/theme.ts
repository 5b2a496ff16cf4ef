import { TOKENS } from './tokens.js'

/** Parts of a specification, as JSON. */
export type Json = Readonly<Record<string, unknown>>

/** Surroundings that a chart is drawn for. */
export type Theme = 'light' | 'dark'

/** Sizes of text, in pixels. */
export const SIZES = { title: 16, subtitle: 12, axisTitle: 12, label: 11, note: 11 } as const

/** The font that ships with the package, and what stands in for it where an SVG file is opened without it. */
const FONT = 'DejaVu Sans, Verdana, sans-serif'

/** How many colours there are before they begin again with another dash. */
export const SERIES_COLOURS = 8

/** The colour of a series by its place, from 0. */
export function seriesColour(place: number, theme: Theme): string {
  return TOKENS[theme][`series-${(place % SERIES_COLOURS) + 1}`] as string
}

/** Everything about a chart that is a matter of taste: fonts, sizes, and the colours of the token file. */
export function themeConfig(theme: Theme): Json {
  const { paper, ink, quiet, rule } = TOKENS[theme]
  const axis = { labelColor: quiet, titleColor: ink, domainColor: rule, tickColor: rule, gridColor: rule, gridOpacity: 0.55 }
  const text = {
    labelFont: FONT,
    titleFont: FONT,
    labelFontSize: SIZES.label,
    titleFontWeight: 'normal',
    labelLimit: 0,
    titleLimit: 0,
  }
  return {
    background: paper,
    padding: 16,
    font: FONT,
    view: { stroke: null },
    title: {
      anchor: 'start',
      frame: 'bounds',
      color: ink,
      font: FONT,
      fontSize: SIZES.title,
      fontWeight: 'bold',
      subtitleColor: quiet,
      subtitleFont: FONT,
      subtitleFontSize: SIZES.subtitle,
      subtitlePadding: 6,
      limit: 0,
      offset: 14,
    },
    axis: { ...axis, ...text, titleFontSize: SIZES.axisTitle, titlePadding: 10, labelPadding: 4, labelSeparation: 6 },
    axisX: { grid: false },
    legend: { ...text, labelColor: ink, titleColor: ink, labelFontSize: SIZES.subtitle, symbolSize: 120, symbolStrokeWidth: 2 },
    line: { strokeWidth: 2, strokeCap: 'round', strokeJoin: 'round' },
    area: { fillOpacity: 0.22 },
    point: { filled: true, size: 46, opacity: 0.85 },
    bar: { fillOpacity: 0.9 },
    text: { font: FONT, color: quiet },
    rule: { color: quiet },
    range: { category: Array.from({ length: SERIES_COLOURS }, (_, place) => seriesColour(place, theme)) },
  }
}
