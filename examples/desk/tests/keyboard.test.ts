import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { cell, headings, onThePage, said, soon } from './helpers'

/** What is done on the page, done without a pointer. */

const at = onThePage('')

/** What a person does who has no pointer. */
function keysOf(page: Page) {
  const press = async (...keys: readonly string[]): Promise<void> => {
    for (const key of keys) await page.keyboard.press(key)
  }
  const type = (text: string): Promise<void> => page.keyboard.type(text)
  const focused = (): Promise<string> =>
    page.evaluate(() => {
      const here = document.activeElement
      // What lies around other things is not what is meant.
      if (here?.matches('button, [role=menuitem]') === true) return here.textContent ?? ''
      if (here?.matches('input, select, textarea') !== true) return ''
      return here.getAttribute('aria-label') ?? (here as HTMLInputElement).labels?.[0]?.textContent ?? ''
    })
  const tabTo = async (name: string): Promise<void> => {
    for (let step = 0; step < 60 && !(await focused()).includes(name); step++) await press('Tab')
    expect(await focused()).toContain(name)
  }
  const doing = async (name: string): Promise<void> => {
    await press('Control+k')
    await page.getByRole('combobox', { name: /find/i }).waitFor()
    await type(name)
    await soon(() => page.locator('.find-item').first().innerText()).toContain(name)
    // The first one is picked a moment after the last letter.
    await page.waitForTimeout(120)
    await press('Enter')
  }
  const inGrid = (): Promise<boolean> => page.evaluate(() => document.activeElement?.classList.contains('grid-scroll') === true)
  const inColumn = async (name: string): Promise<string> => cell(page, 1, (await headings(page)).indexOf(name))
  const writes = async (text: string): Promise<void> => {
    await page.locator('.cm-content').waitFor()
    await soon(() => page.evaluate(() => document.activeElement?.classList.contains('formula-editor'))).toBe(true)
    await type(text)
    await soon(() => page.locator('.draft-buttons .go').isEnabled()).toBe(true)
    await press('Control+Enter')
  }
  /** Goes to a column, and does what the menu of its heading says. */
  const inMenu = async (column: string, item: string): Promise<void> => {
    await doing(column)
    await soon(() => page.locator('.head-cell.picked .head-name').innerText()).toBe(column)
    await soon(inGrid).toBe(true)
    // What was chosen is done a moment after the field is closed.
    await page.waitForTimeout(150)
    await press('Control+ArrowUp', 'ArrowUp', 'Enter')
    await page.getByRole('menu').waitFor()
    await type(item.slice(0, 4))
    await soon(focused).toContain(item)
    await press('Enter')
  }
  return { press, type, focused, tabTo, doing, inGrid, inColumn, writes, inMenu }
}

test('a job from the empty page to a saved workbook by the keyboard alone', async () => {
  const { page } = at
  const { press, type, focused, tabTo, doing, inColumn, writes } = keysOf(page)
  await page.locator('.begin').waitFor()
  await tabTo('New table')
  await press('Enter')
  await page.getByRole('dialog').waitFor()
  await type('jars')
  await press('Tab')
  await type('site, jars, price')
  await press('Enter')
  await soon(() => headings(page)).toEqual(['site', 'jars', 'price'])
  for (let step = 0; step < 60; step++) {
    if (await page.evaluate(() => document.activeElement?.classList.contains('grid-scroll'))) break
    await press('Tab')
  }
  for (const values of [
    ['LM', '12', '9.5'],
    ['BF', '7', '9'],
  ]) {
    for (const value of values.slice(0, -1)) {
      await type(value)
      await press('Tab')
    }
    await type(values.at(-1) as string)
    await press('Enter', 'Home')
  }
  await soon(() => cell(page, 2, 2)).toMatch(/^9/)
  await doing('New calculated column')
  await writes('worth = jars * price')
  await soon(() => headings(page)).toContain('worth')
  await soon(() => said(page)).toContain('worth added')
  await soon(() => inColumn('worth')).toMatch(/^114/)

  // A mistake is told where it stands, and mended by the way on that it offers.
  await doing('New calculated column')
  await page.locator('.cm-content').waitFor()
  await soon(() => page.evaluate(() => document.activeElement?.classList.contains('formula-editor'))).toBe(true)
  await type('double = 2 * pricee')
  await soon(() => page.locator('.slip .card').innerText()).toContain('pricee')
  await tabTo('Use price')
  await press('Enter')
  await soon(() => page.locator('.draft-buttons .go').isEnabled()).toBe(true)
  await tabTo('Add column')
  await press('Enter')
  await soon(() => said(page)).toContain('double added')

  // The menu of a heading, by its keys: the formula is edited.
  await doing('worth')
  await soon(() => page.locator('.head-cell.picked .head-name').innerText()).toBe('worth')
  await press('Control+ArrowUp', 'ArrowUp', 'Enter')
  await page.getByRole('menu').waitFor()
  await type('Edit')
  await soon(focused).toBe('Edit formula')
  await press('Enter')
  await writes(' + 1')
  await soon(() => inColumn('worth')).toMatch(/^115/)

  // Some rows only, why a value is what it is, and a step back.
  await doing('Show some rows only')
  await soon(() => page.evaluate(() => document.activeElement?.tagName)).toBe('INPUT')
  await type('jars > 10')
  await press('Enter')
  await soon(() => page.locator('.rows-shown').innerText()).toContain('1 of 10 rows')
  await press('Escape')
  await doing('worth')
  await soon(() => page.evaluate(() => document.activeElement?.classList.contains('grid-scroll'))).toBe(true)
  await press('ArrowDown')
  await doing('Show why')
  await soon(() => page.locator('.slip').innerText()).toContain('115')
  await doing('Take back')
  await soon(() => inColumn('worth')).toMatch(/^114/)
  const waiting = page.waitForEvent('download')
  await press('Control+s')
  expect((await waiting).suggestedFilename()).toBe('workbook.bundle')
  await soon(() => page.locator('.saving').innerText()).toBe('saved')
})

test('a file is read, a column paused, tables linked, and tally, rule, report and chart made by the keyboard alone', async () => {
  const { page } = at
  const { press, type, focused, tabTo, doing, inGrid, inColumn, writes, inMenu } = keysOf(page)
  const open = async (name: string, text: string): Promise<void> => {
    const choosing = page.waitForEvent('filechooser')
    // The browser is told first that a file is chosen for it.
    await page.evaluate(() => undefined)
    await press('Enter')
    await (await choosing).setFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })
    await page.getByRole('dialog').waitFor()
    await soon(() => page.locator('.dialog .go').isEnabled()).toBe(true)
    await tabTo('Take')
    await press('Enter')
    await page.getByRole('dialog').waitFor({ state: 'detached' })
  }
  await page.locator('.begin').waitFor()
  await tabTo('Open a file')
  await open('jars.csv', 'site,jars,price\nLM,12,9.5\nBF,7,9\nLM,4,9\n')
  await soon(() => headings(page)).toEqual(['site', 'jars', 'price'])
  await press('Control+k')
  await page.getByRole('combobox', { name: /find/i }).waitFor()
  await type('Open a file of rows')
  await soon(() => page.locator('.find-item').first().innerText()).toContain('Open a file of rows')
  await page.waitForTimeout(120)
  await open('sites.csv', 'code,name\nLM,Lime Meadow\nBF,Bean Field\n')
  await soon(() => headings(page)).toEqual(['code', 'name'])

  // A paused column is typed over; going on would lose that, which is said, with the way to lose it.
  await doing('jars')
  await soon(() => headings(page)).toContain('price')
  await doing('New calculated column')
  await writes('worth = jars * price')
  await soon(() => headings(page)).toContain('worth')
  await inMenu('worth', 'Pause')
  await soon(() => said(page)).toContain('worth paused')
  await soon(inGrid).toBe(true)
  await press('ArrowDown')
  await type('100')
  await press('Enter')
  await soon(() => inColumn('worth')).toMatch(/^100/)
  await inMenu('worth', 'Calculate again')
  await soon(() => said(page)).toContain('1 of them typed by hand')
  await tabTo('Resume it all the same')
  await press('Enter')
  await soon(() => inColumn('worth')).toMatch(/^114/)

  await doing('site')
  await doing('About the column')
  await tabTo('leads to')
  await type('sites.code')
  await tabTo('Link')
  await press('Enter')
  await soon(() => page.locator('.frame-links').first().innerText()).toContain('sites')

  for (const [command, name, formula] of [
    ['New tally', 'all_jars', 'sum(jars)'],
    ['New rule', 'some', 'jars > 0'],
  ] as const) {
    await doing(command)
    await soon(focused).toBe('name')
    await type(name)
    await press('Tab')
    await type(formula)
    await soon(() => page.locator('.dialog .go').isEnabled()).toBe(true)
    await tabTo('Keep it')
    await press('Enter')
    await soon(() => said(page)).toContain(`${name} kept`)
  }
  await doing('New report')
  await soon(focused).toBe('name')
  await type('by_site')
  await tabTo('groups')
  await type('place = site.name')
  await tabTo('tallies')
  await type('money = sum(worth)')
  await press('Enter')
  await soon(() => page.locator('.dialog table.report').innerText()).toContain('Lime Meadow')
  await tabTo('Keep the report')
  await press('Enter')
  await soon(() => page.locator('.view h2').innerText()).toBe('by_site')
  await doing('New chart')
  await soon(focused).toBe('name')
  await type('worths')
  await tabTo('along')
  await type('site')
  await tabTo('series 1')
  await type('worth')
  await soon(() => page.locator('.dialog img').count()).toBe(1)
  await tabTo('Keep the chart')
  await press('Enter')
  await soon(() => page.locator('.chart-view h2').innerText()).toBe('worths')
})
