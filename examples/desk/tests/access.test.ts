import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { barriers } from './barriers'
import { goTo, onThePage, soon } from './helpers'

const at = onThePage('#demo')

/** States of the page one after the other, each with the way there from the rows of a table, and the way back. */
const STATES: readonly { readonly name: string; there(page: Page): Promise<unknown>; back?(page: Page): Promise<unknown> }[] = [
  { name: 'the rows of a table', there: async () => undefined },
  {
    name: 'a cell being edited',
    there: async (page) => {
      await page.locator('#cell-2-2').click()
      await page.keyboard.press('Enter')
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'a draft with samples',
    there: async (page) => {
      await page.getByRole('button', { name: '+ column' }).click()
      await page.getByLabel('new column of inspections').fill("risk = if(infestation > 2, 'high', 'low')")
      await page.waitForSelector('.samples')
    },
    back: (page) => page.getByRole('button', { name: 'Give up' }).click(),
  },
  {
    name: 'why',
    there: async (page) => {
      await goTo(page, 'act')
      await page.getByRole('tab', { name: 'Why' }).click()
      await page.waitForSelector('.why-value')
    },
  },
  {
    name: 'findings',
    there: async (page) => {
      await page.getByRole('tab', { name: /Findings/ }).click()
      await page.waitForSelector('.slip .card')
    },
  },
  { name: 'a column', there: (page) => page.getByRole('tab', { name: 'Column' }).click() },
  {
    name: 'the menu of a heading',
    there: async (page) => {
      await page.locator('.head-cell.picked').click({ button: 'right' })
      await page.waitForSelector('.menu')
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'find or do anything',
    there: async (page) => {
      await page.keyboard.press('Control+k')
      await page.waitForSelector('.find-item')
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'the list of steps',
    there: async (page) => {
      await goTo(page, 'mites')
      await page.keyboard.type('3')
      await page.keyboard.press('Enter')
      await page.getByRole('button', { name: /^All steps/ }).click()
      await page.waitForSelector('.steps-list li')
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'rows under a condition',
    there: async (page) => {
      await page.locator('.rows-shown').click()
      await page.getByLabel('rows where').fill('infestation > 5')
      await page.getByRole('button', { name: 'Show them' }).click()
      await soon(() => page.locator('.rows-shown').innerText()).toContain('of 1,986')
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'rows in groups, added up',
    there: async (page) => {
      await page.getByRole('button', { name: 'Show all rows' }).click()
      await page.locator('#cell-0-0').click({ button: 'right' })
      await page.getByRole('menuitem', { name: 'In groups by this' }).click()
      await page.waitForSelector('.group-line')
      await page.locator('.row-number').nth(2).click()
      await page.waitForSelector('.selection-sum')
    },
  },
  {
    name: 'a row as a form',
    there: async (page) => {
      await page.locator('#cell-2-0').click({ button: 'right' })
      await page.getByRole('menuitem', { name: 'Fill in as a form' }).click()
      await page.getByRole('dialog').waitFor()
    },
    back: (page) => page.keyboard.press('Escape'),
  },
  {
    name: 'the map of the model',
    there: async (page) => {
      await page.getByRole('button', { name: 'map', exact: true }).click()
      await page.getByRole('button', { name: /^inspections.infestation/ }).click()
      await page.waitForSelector('.model-map .thread')
    },
  },
  {
    name: 'a report',
    there: async (page) => {
      await page.getByRole('button', { name: 'by_apiary' }).click()
      await page.waitForSelector('table.report')
    },
  },
  {
    name: 'a chart',
    there: async (page) => {
      await page.getByRole('button', { name: 'comb_growth' }).click()
      await page.waitForSelector('.chart-view img')
    },
  },
]

test('nothing stands in the way in any state of the page, light or dark', async () => {
  const { page } = at
  await page.emulateMedia({ reducedMotion: 'reduce' })
  for (const { name, there, back } of STATES) {
    await there(page)
    await page.emulateMedia({ colorScheme: 'light' })
    expect([name, ...(await barriers(page))]).toEqual([name])
    // In the dark the same things are there in other colours.
    await page.emulateMedia({ colorScheme: 'dark' })
    expect([name, ...(await barriers(page, ['color-contrast']))]).toEqual([name])
    await back?.(page)
  }
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
