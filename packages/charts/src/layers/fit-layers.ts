import type { ChartAxis, ChartData } from 'mellow-abacus'
import type { Json, Theme } from '../theme.js'
import { TOKENS } from '../tokens.js'

const MS_PER_DAY = 86_400_000

/** Points that a curve is drawn through. */
const CURVE_POINTS = 240

type Fit = NonNullable<ChartData['fit']>

/** Fields of the points of curves, apart from those of series. */
interface CurvePoint {
  readonly x: number | string
  readonly curve: number
}

/** A curve as a layer, with its own points. */
export function curveLayer({ curve }: Fit, x: Json, axis: ChartAxis, theme: Theme): Json {
  const points = curve.points()
  const [first, last] = [points.x[0] as number, points.x.at(-1) as number]
  const values = Array.from({ length: CURVE_POINTS + 1 }, (_, at): CurvePoint => {
    const place = first + ((last - first) * at) / CURVE_POINTS
    return { x: placeOnAxis(place, curve.start, axis), curve: curve.at(place) }
  })
  return {
    name: 'curve',
    data: { name: 'curve', values },
    mark: { type: 'line', color: TOKENS[theme].ink, strokeWidth: 1.5, order: false },
    encoding: { x, y: { field: 'curve', type: 'quantitative' } },
  }
}

/** What a curve leaves, as a drawing of its own. */
export function residualsView({ curve }: Fit, x: Json, axis: ChartAxis, theme: Theme, width: number, extent: number): Json {
  const points = curve.points()
  const values = Array.from(points.x, (place, at) => ({
    x: placeOnAxis(place, curve.start, axis),
    residual: points.residuals[at],
  }))
  const unit = curve.y.unit === null ? '' : ` (${curve.y.unit})`
  return {
    width,
    height: 110,
    data: { name: 'residuals', values },
    layer: [
      { mark: { type: 'rule' }, encoding: { y: { datum: 0 } } },
      {
        mark: { type: 'point', size: 28, color: TOKENS[theme].ink },
        encoding: {
          x,
          y: {
            field: 'residual',
            type: 'quantitative',
            scale: { zero: true, nice: true },
            axis: { title: [`residuals${unit}`], tickCount: 4, minExtent: extent },
          },
        },
      },
    ],
  }
}

/** Curves of times count in days from their start. */
function placeOnAxis(place: number, start: string | null, { column: { type } }: ChartAxis): number | string {
  if (start === null) return place
  const from = Date.parse(start.includes('T') ? `${start}Z` : start)
  const iso = new Date(from + Math.round(place * MS_PER_DAY)).toISOString()
  return type === 'date' && Number.isInteger(place) ? (iso.split('T')[0] as string) : iso
}
