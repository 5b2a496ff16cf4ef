import { readFileSync } from 'node:fs'
import {
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  parse,
  type Rgb,
  wcagContrast,
} from 'culori'
import { describe, expect, test } from 'vitest'
import { SERIES_COLOURS, seriesColour } from '../src/theme.js'
import { TOKENS } from '../src/tokens.js'

/** The colours of series: against the paper, and apart for readers who see fewer colours. */

const difference = differenceCiede2000()
/** How colours look to readers without one of the three sorts of cones (Machado, Oliveira, Fernandes 2009). */
const SIGHTS: Readonly<Record<string, (colour: Rgb) => Rgb>> = {
  'all colours': (colour: Rgb) => colour,
  'no red': filterDeficiencyProt(1),
  'no green': filterDeficiencyDeuter(1),
  'no blue': filterDeficiencyTrit(1),
}

describe.each(['light', 'dark'] as const)('%s', (theme) => {
  const colours = Array.from({ length: SERIES_COLOURS }, (_, place) => seriesColour(place, theme))

  test('series stand out from the paper (WCAG 2.2, 1.4.11)', () => {
    for (const colour of colours) expect(wcagContrast(colour, TOKENS[theme].paper as string)).toBeGreaterThanOrEqual(3)
  })

  test.each(Object.entries(SIGHTS))('series can be told apart with %s', (_, seen) => {
    for (const [at, one] of colours.entries())
      for (const other of colours.slice(0, at)) {
        // Beyond four series the dash and the mark help the more.
        const least = at < 4 ? 15 : 10
        expect([one, other, difference(seen(parse(one) as Rgb), seen(parse(other) as Rgb)) >= least]).toEqual([one, other, true])
      }
  })

  test('text can be read (WCAG 2.2, 1.4.3)', () => {
    for (const name of ['ink', 'quiet'])
      expect(wcagContrast(TOKENS[theme][name] as string, TOKENS[theme].paper as string)).toBeGreaterThanOrEqual(4.5)
  })
})

test('the token file is the one of the page', () => {
  const main = readFileSync(new URL('../../../examples/desk/src/main.tsx', import.meta.url), 'utf8')
  expect(main).toContain("import '@mellow-abacus/charts/tokens.css'")
})
