import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from 'playwright-core'
import { describe, expect, test } from 'vitest'
import { goTo, onThePage, soon } from './helpers'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

interface Violation {
  readonly id: string
  readonly impact: string
  readonly nodes: readonly { readonly html: string }[]
}

/** What stands in someone's way: serious and critical findings of axe. */
async function barriers(page: Page): Promise<string[]> {
  const { violations } = await page.evaluate<{ violations: Violation[] }>(
    `${axe}; axe.run(document, { resultTypes: ['violations'] })`,
  )
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)
}

const at = onThePage('#demo')

const STATES: Record<string, (page: Page) => Promise<void>> = {
  'the rows of a table': async () => undefined,
  'a cell being edited': async (page) => {
    await page.locator('#cell-2-2').click()
    await page.keyboard.press('Enter')
  },
  'a draft with samples': async (page) => {
    await page.getByRole('button', { name: '+ column' }).click()
    await page.getByLabel('new column of inspections').fill("risk = if(infestation > 2, 'high', 'low')")
    await page.waitForSelector('.samples')
  },
  why: async (page) => {
    await goTo(page, 'act')
    await page.getByRole('tab', { name: 'Why' }).click()
    await page.waitForSelector('.why-value')
  },
  findings: async (page) => {
    await page.getByRole('tab', { name: /Findings/ }).click()
    await page.waitForSelector('.slip .card')
  },
  'a column': async (page) => page.getByRole('tab', { name: 'Column' }).click(),
  'a report': async (page) => {
    await page.getByRole('button', { name: 'by_apiary' }).click()
    await page.waitForSelector('table.report')
  },
  'a chart': async (page) => {
    await page.getByRole('button', { name: 'comb_growth' }).click()
    await page.waitForSelector('.chart-view img')
  },
  'the menu of a heading': async (page) => {
    await page.locator('#cell-0-1').click({ button: 'right' })
    await page.waitForSelector('.menu')
  },
  'find or do anything': async (page) => {
    await page.keyboard.press('Control+k')
    await page.waitForSelector('.find-item')
  },
  'rows under a condition': async (page) => {
    await page.locator('.rows-shown').click()
    await page.getByLabel('rows where').fill('infestation > 5')
    await page.getByRole('button', { name: 'Show them' }).click()
    await soon(() => page.locator('.rows-shown').innerText()).toContain('of 1,986')
  },
  'the list of steps': async (page) => {
    await page.locator('#cell-2-2').click()
    await page.keyboard.type('3')
    await page.keyboard.press('Enter')
    await page.getByRole('button', { name: /^All steps/ }).click()
    await page.waitForSelector('.steps-list li')
  },
}

describe.each(Object.entries(STATES))('%s', (_, reach) => {
  test.each(['light', 'dark'] as const)('has nothing that stands in the way, %s', async (colorScheme) => {
    await at.page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
    await reach(at.page)
    expect(await barriers(at.page)).toEqual([])
  })
})

test.each([
  [640, 400],
  [320, 640],
  [1920, 1080],
])('at %i by %i pixels there are rows to be seen, and nothing stands in the way', async (width, height) => {
  const { page } = at
  await page.setViewportSize({ width, height })
  await soon(async () => page.locator('.grid-row').first().isVisible()).toBe(true)
  const isReached = await page.locator('#cell-3-0').isVisible()
  expect(isReached).toBe(true)
  expect(await barriers(page)).toEqual([])
})

test('the tree of access says of a column what is seen of it', async () => {
  const { page } = at
  await soon(() => page.getByRole('columnheader', { name: /mites, source column, number, has a finding/ }).count()).toBe(1)
  await goTo(page, 'infestation')
  await soon(() => page.getByRole('columnheader', { name: /infestation, calculated column, number, %/ }).count()).toBe(1)
  expect(await page.locator('.cell.here').getAttribute('aria-readonly')).toBe('true')
  // One stop of the Tab key for the whole grid.
  expect(await page.locator('.grid-scroll [tabindex="0"]').count()).toBe(0)
})
