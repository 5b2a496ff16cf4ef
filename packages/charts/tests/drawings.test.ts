import { createRequire } from 'node:module'
import { Resvg } from '@resvg/resvg-js'
import fc from 'fast-check'
import * as fontkit from 'fontkit'
import { Workbook } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { chartDrawing, distributionDrawing, drawingBytes, drawSvg } from '../src/index.js'
import { textWidth, wrapped } from '../src/text-width.js'
import { CHARTS, season } from './season.js'

/** Drawings: nothing is cut off, all text is there, in every format. */

const fonts = { regular: 'DejaVuSans', bold: 'DejaVuSans-Bold' } as const
const pathOf = (name: string): string => createRequire(import.meta.url).resolve(`dejavu-fonts-ttf/ttf/${name}.ttf`)

/** By how much what is drawn goes beyond the edges of the drawing, in pixels. */
function beyond(svg: string): number {
  const drawn = new Resvg(svg, {
    font: { loadSystemFonts: false, fontFiles: Object.values(fonts).map(pathOf), defaultFontFamily: 'DejaVu Sans' },
  })
  const box = drawn.getBBox()
  if (box === undefined) throw new Error('nothing is drawn')
  return Math.max(-box.x, -box.y, box.x + box.width - drawn.width, box.y + box.height - drawn.height, 0)
}

test('what goes beyond the edges is seen', () => {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="50" height="40"><text x="10" y="20" font-size="12">too long for it</text></svg>`
  expect(beyond(svg)).toBeGreaterThan(30)
})

describe('nothing is cut off', () => {
  test.each(Object.entries(CHARTS))('%s', async (_, definition) => {
    expect(beyond(await drawSvg(chartDrawing(season().chart(definition))))).toBe(0)
  })

  test('whatever texts stand along and above', async () => {
    const word = fc
      .string({ unit: fc.constantFrom(...'abcWMil żŁ中Ω-é'), minLength: 1, maxLength: 60 })
      .filter((text) => text.trim() !== '')
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(word, { minLength: 1, maxLength: 40, selector: (text) => text.normalize('NFC').toLowerCase() }),
        word,
        async (labels, title) => {
          const book = new Workbook({ now: 0 })
          book.apply([
            {
              op: 'add-table',
              table: 't',
              columns: [
                { name: 'label', type: 'text' },
                { name: 'n', type: 'number' },
              ],
            },
            { op: 'insert-rows', table: 't', block: { label: labels, n: labels.map((_, at) => at * 1e7) } },
          ])
          const drawing = chartDrawing(
            book.chart({ table: 't', x: 'label', series: [{ name: title, formula: 'n', kind: 'bar' }], title, legend: true }),
          )
          expect(beyond(await drawSvg(drawing))).toBe(0)
        },
      ),
      { numRuns: 25 },
    )
  })

  test('texts are as wide as the font makes them', () => {
    for (const [weight, name] of Object.entries(fonts) as ['regular' | 'bold', string][]) {
      const font = fontkit.openSync(pathOf(name)) as fontkit.Font
      for (const text of ['honey_kg (kg)', '−4.9·t² + 0·t', 'Świerk, Übersicht, Ελλάς, Мёд', '12:30'])
        expect(textWidth(text, 100, weight)).toBeCloseTo(
          [...text].reduce(
            (sum, sign) => sum + (font.glyphForCodePoint(sign.codePointAt(0) as number).advanceWidth / font.unitsPerEm) * 100,
            0,
          ),
          0,
        )
    }
  })

  test('lines are broken at spaces, and words are whole', () => {
    expect(wrapped('the long grass below the wall', 90, 11)).toEqual(['the long grass', 'below the wall'])
    expect(wrapped('unbreakable', 10, 11)).toEqual(['unbreakable'])
    expect(wrapped('', 10, 11)).toEqual([''])
  })
})

describe('formats', () => {
  const drawing = chartDrawing(season().chart(CHARTS['three lines along dates'] as never), { theme: 'dark' })
  const text = async (format: 'svg' | 'html' | 'json'): Promise<string> =>
    new TextDecoder().decode(await drawingBytes(drawing, format))

  test('svg has its text as text', async () => {
    const svg = await text('svg')
    expect(svg).toMatch(/^<svg /)
    for (const word of [
      'kg, warm, bees.alive by day',
      'kg (kg)',
      'warm (°C)',
      'bees.alive, right',
      'takes: 60 rows',
      'kg: 5 blanks are gaps.',
    ])
      expect(svg).toContain(word)
    expect(svg).not.toContain('NaN')
  })

  test('png has two pixels a unit, and its letters', async () => {
    const bytes = await drawingBytes(drawing, 'png')
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    expect(view.getUint32(0)).toBe(0x89504e47)
    const { width } = new Resvg(await drawSvg(drawing))
    expect(view.getUint32(16)).toBe(width * 2)
    // Without a font the letters would be missing, and nothing would say so.
    const lettersGone = new Resvg((await drawSvg(drawing)).replaceAll(/<text[^>]*>[^<]*<\/text>/g, ''), {
      fitTo: { mode: 'zoom', value: 2 },
    })
    expect(bytes.length).toBeGreaterThan(lettersGone.render().asPng().length * 1.5)
  })

  test('json is the specification, points included', async () => {
    const json = JSON.parse(await text('json'))
    expect(json.$schema).toMatch(/vega-lite\/v6/)
    expect(json.data.values).toHaveLength(60)
  })

  test('html holds all of it, and names no other place', async () => {
    const html = await text('html')
    expect(html).toContain('<svg ')
    expect(html.replaceAll(/http:\/\/www\.w3\.org\/\S+|https:\/\/vega\.github\.io\/schema\/\S+/g, '')).not.toMatch(
      /(src|href)="http/,
    )
  })

  test('a million points are drawn by a few thousand', async () => {
    const count = 100_000
    const book = new Workbook({ now: 0 })
    const all = Float64Array.from({ length: count }, (_, at) => at)
    book.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [
          { name: 'time', type: 'number' },
          { name: 'y', type: 'number' },
        ],
      },
      { op: 'insert-rows', table: 't', block: { time: all, y: all.map((at) => (at === 31_234 ? 1e6 : Math.sin(at / 5000))) } },
    ])
    const dense = chartDrawing(book.chart({ table: 't', x: 'time', series: [{ formula: 'y', kind: 'line' }] }))
    const { values } = dense.specification.data as { values: { x: number; y: number }[] }
    expect(values.length).toBeLessThan(5200)
    expect(values.some(({ y }) => y === 1e6)).toBe(true)
    expect(dense.notes).toEqual([
      '100,000 points a series; drawn are the first, last, smallest and largest in each of 1,280 columns.',
    ])
  })
})

test('of nothing there is an empty drawing, in every format', async () => {
  const book = new Workbook({ now: 0 })
  book.apply({
    op: 'add-table',
    table: 't',
    columns: [
      { name: 'a', type: 'number' },
      { name: 'day', type: 'date' },
      { name: 'site', type: 'text' },
    ],
  })
  for (const x of ['a', 'day', 'site'])
    for (const kind of ['line', 'bar', 'area', 'point'] as const) {
      const drawing = chartDrawing(book.chart({ table: 't', x, series: [{ formula: 'a * 2', kind }], legend: true }))
      expect(new TextDecoder().decode(await drawingBytes(drawing, 'svg'))).toContain('t: 0 rows')
    }
  for (const name of ['a', 'day', 'site'])
    expect(await drawSvg(distributionDrawing(book.table('t').column(name), { table: 't' }))).toContain('0 values in 0 rows')
})

test('a distribution counts every value once', () => {
  const book = season()
  const rows = (name: string): number => {
    const { specification } = distributionDrawing(book.table('takes').column(name), { table: 'takes' })
    return (specification.data as { values: { rows: number }[] }).values.reduce((sum, one) => sum + one.rows, 0)
  }
  expect(['kg', 'day', 'first', 'flow', 'ripe'].map(rows)).toEqual([55, 60, 60, 60, 60])
})
