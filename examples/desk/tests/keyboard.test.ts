import { expect, test } from 'vitest'
import { cell, headings, onThePage, said, soon } from './helpers'

/** What is done on the page, done without a pointer. */

const at = onThePage('')

test('a job from the empty page to a saved workbook by the keyboard alone', async () => {
  const { page } = at
  const press = async (...keys: readonly string[]): Promise<void> => {
    for (const key of keys) await page.keyboard.press(key)
  }
  const type = (text: string): Promise<void> => page.keyboard.type(text)
  const focused = (): Promise<string> =>
    page.evaluate(() => {
      const here = document.activeElement
      // What lies around other things is not what is meant.
      return here?.matches('button, [role=menuitem]') === true ? (here.textContent ?? '') : ''
    })
  const tabTo = async (name: string): Promise<void> => {
    for (let step = 0; step < 60 && !(await focused()).includes(name); step++) await press('Tab')
    expect(await focused()).toContain(name)
  }
  const doing = async (name: string): Promise<void> => {
    await press('Control+k')
    await type(name)
    await soon(() => page.locator('.find-item').first().innerText()).toContain(name)
    await press('Enter')
  }
  const inColumn = async (name: string): Promise<string> => cell(page, 1, (await headings(page)).indexOf(name))
  const writes = async (text: string): Promise<void> => {
    await page.locator('.cm-content').waitFor()
    await soon(() => page.evaluate(() => document.activeElement?.classList.contains('formula-editor'))).toBe(true)
    await type(text)
    await soon(() => page.locator('.draft-buttons .go').isEnabled()).toBe(true)
    await press('Control+Enter')
  }

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
