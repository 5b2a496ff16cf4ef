import { createRequire } from 'node:module'
import Ajv from 'ajv'
import addFormats from 'ajv-formats'
import fc from 'fast-check'
import { type ChartDefinition, Workbook } from 'mellow-abacus'
import { compile, type TopLevelSpec } from 'vega-lite'
import { describe, expect, test } from 'vitest'
import { chartDrawing, type Drawing, distributionDrawing } from '../src/index.js'
import { CHARTS, season } from './season.js'

/** Specifications: what Vega-Lite says of them, and what stands in them. */

const ajv = new Ajv({ strict: false, allowUnionTypes: true })
addFormats(ajv)
ajv.addFormat('color-hex', /^#([0-9a-f]{3}|[0-9a-f]{6})$/i)
const isSpecification = ajv.compile(createRequire(import.meta.url)('vega-lite/vega-lite-schema.json'))

/** Everything that is wrong with a specification: by its schema, and by what compiles it. */
function complaints({ specification }: Drawing): string[] {
  const found: string[] = []
  if (!isSpecification(JSON.parse(JSON.stringify(specification)))) found.push(ajv.errorsText(isSpecification.errors))
  const say = (...words: readonly string[]): typeof logger => {
    found.push(words.join(' '))
    return logger
  }
  const quiet = (): typeof logger => logger
  const logger = { level: quiet, error: say, warn: say, info: quiet, debug: quiet } as never as { readonly level: unknown }
  compile(specification as unknown as TopLevelSpec, { logger: logger as never })
  return found
}

const book = season()

describe('keep to the schema of Vega-Lite, and nothing in them is dropped', () => {
  test.each(Object.entries(CHARTS))('%s', (_, definition) => {
    for (const theme of ['light', 'dark'] as const)
      expect(complaints(chartDrawing(book.chart(definition), { theme, locale: 'de' }))).toEqual([])
  })

  test.each(['kg', 'day', 'first', 'flow', 'ripe', 'hour'])('the distribution of %s', (name) => {
    expect(complaints(distributionDrawing(book.table('takes').column(name), { table: 'takes' }))).toEqual([])
  })

  test('whatever is drawn over whatever', () => {
    const xs = fc.constantFrom('day', 'hour', 'flow', 'ripe', 'kg * 2', "start_of(day, 'month')")
    const kinds = fc.constantFrom('line' as const, 'point' as const, 'bar' as const, 'area' as const)
    const names = ['kg', 'warm', 'rate', '`bees.alive`', 'kg per warm', 'blank * kg']
    const series = fc.uniqueArray(
      fc.record({ formula: fc.constantFrom(...names), kind: kinds, axis: fc.constantFrom('left' as const, 'right' as const) }),
      { minLength: 1, maxLength: 5, selector: ({ formula }) => formula },
    )
    fc.assert(
      fc.property(xs, series, fc.boolean(), (x, list, legend) => {
        const definition: ChartDefinition = { table: 'takes', x, series: list, legend }
        expect(complaints(chartDrawing(book.chart(definition)))).toEqual([])
      }),
      { numRuns: 40 },
    )
  })

  test('names that mean something in paths of fields', () => {
    const odd = new Workbook({ now: 0 })
    const names = ['a.b', 'c[0]', "it's", 'say "so"', '\\back', 'x', 'series', 'value', 'from', 'größe', '1st']
    odd.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [{ name: 'time', type: 'number' }, ...names.map((name) => ({ name, type: 'number' as const }))],
      },
      {
        op: 'insert-rows',
        table: 't',
        rows: [0, 1, 2].map((time) => ({ time, ...Object.fromEntries(names.map((name, at) => [name, at + time])) })),
      },
    ])
    const drawing = chartDrawing(
      odd.chart({
        table: 't',
        x: 'time',
        series: names.map((name) => ({ name, formula: `\`${name.replaceAll('`', '``')}\``, kind: 'line' })),
      }),
    )
    expect(complaints(drawing)).toEqual([])
    const [point] = (drawing.specification.data as { values: Record<string, number>[] }).values
    expect(Object.values(point ?? {})).toEqual([0, ...names.map((_, at) => at)])
  })
})

describe('say', () => {
  const words = (definition: ChartDefinition): Drawing => chartDrawing(book.chart(definition))
  const text = (drawing: Drawing): string => JSON.stringify(drawing.specification)

  test('titles of names, symbols and units', () => {
    const drawing = words(CHARTS['points, with a curve and what it leaves'] as ChartDefinition)
    expect(drawing.title).toBe('kg by hour')
    expect(text(drawing)).toContain('"kg m (kg)"')
    expect(text(drawing)).toContain('"hour t (h)"')
    expect(text(drawing)).toMatch(/curve: m = [^"]*t³[^"]*R² 0\.\d+/)
    expect(text(drawing)).toContain('"residuals (kg)"')
  })

  test('what is not to be seen', () => {
    const { notes } = words(CHARTS['areas with gaps and errors'] as ChartDefinition)
    expect(notes[0]).toMatch(/^kg: \d blanks are gaps\.$/)
    expect(notes[1]).toMatch(/^rate: \d blanks and \d errors are gaps\.$/)
    expect(notes[2]).toBe('The axis on the left is of several units: kg, kg/°C.')
  })

  test('that bars cover one another, where several rows stand at one x', () => {
    const of = (definition: ChartDefinition): string[] => words(definition).notes.filter((note) => note.includes('covers'))
    expect(of(CHARTS['bars of texts in the order of their key'] as ChartDefinition)).toEqual([
      'kg, warm: several rows have one flow, and the largest of their bars covers the others; a report adds them up.',
    ])
    expect(of(CHARTS['bars along dates'] as ChartDefinition)).toEqual([])
    expect(of(CHARTS['groups in groups'] as ChartDefinition)).toEqual([])
  })

  test('categories in the order of their order key, and values as they are', () => {
    const { specification } = words(CHARTS['bars of texts in the order of their key'] as ChartDefinition)
    const { vconcat } = specification as unknown as {
      vconcat: { layer: { encoding: { x: { scale: { domain: string[] } } } }[] }[]
    }
    const domain = vconcat[0]?.layer.find(({ encoding }) => encoding.x !== undefined)?.encoding.x.scale.domain
    expect(domain?.map((one) => one.split(',')[0])).toEqual(['clover', 'lime', 'heather'])
  })

  test('times as they are written, whatever the zone of the machine', () => {
    const { data } = words(CHARTS['three lines along dates'] as ChartDefinition).specification as {
      data: { values: { x: string }[] }
    }
    expect(data.values[0]?.x).toBe('2026-05-01')
    expect(data.values.at(-1)?.x).toBe('2026-06-29')
  })

  test('what a curve is of, on the axis of its series', () => {
    const definition: ChartDefinition = {
      table: 'takes',
      x: 'hour',
      series: [
        { formula: 'warm', kind: 'line' },
        { formula: 'kg', kind: 'point', axis: 'right' },
      ],
      fit: { series: 'kg', degree: 2 },
    }
    const { vconcat } = words(definition).specification as unknown as { vconcat: { layer: { layer?: { name?: string }[] }[] }[] }
    const sides = (vconcat[0]?.layer ?? []).filter(({ layer }) => layer !== undefined)
    expect(sides.map(({ layer }) => layer?.some(({ name }) => name === 'curve'))).toEqual([false, true])
  })
})
