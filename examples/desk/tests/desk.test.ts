import { type Browser, chromium, type Page } from 'playwright-core'
import { type PreviewServer, preview } from 'vite'
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest'

/** The real page, as it is built and served with its security policy, in headless Chromium. */

const root = new URL('..', import.meta.url).pathname
const quiet = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

let server: PreviewServer
let browser: Browser
let page: Page
let faults: string[]

beforeAll(async () => {
  server = await preview({
    root,
    configFile: `${root}vite.config.ts`,
    preview: { port: 0, host: '127.0.0.1' },
    logLevel: 'error',
  })
  browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', headless: true, args: quiet })
})
afterAll(async () => {
  await browser?.close()
  await new Promise((resolve) => server.httpServer.close(resolve))
})
beforeEach(async () => {
  page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  faults = []
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()))
  page.on('pageerror', (error) => faults.push(String(error)))
  await page.goto(server.resolvedUrls?.local[0] ?? '')
  await page.waitForSelector('[role=gridcell]')
})
afterEach(async () => {
  await page.close()
  expect(faults).toEqual([])
})

const notice = (): Promise<string> => page.locator('.notice').innerText()
const cell = (row: number, column: number): Promise<string> => page.locator(`#cell-${row}-${column}`).innerText()
const headings = (): Promise<string[]> => page.locator('[role=columnheader] button').allInnerTexts()

/** Goes to a cell and types a value into it, all from the keyboard once the cell is clicked. */
async function type(row: number, column: number, text: string): Promise<void> {
  await page.locator(`#cell-${row}-${column}`).click()
  await page.keyboard.press('Enter')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

test('shows the demo table with its rod, virtualised, with a totals line', async () => {
  expect(await headings()).toEqual(expect.arrayContaining(['○ hive', '● infestation %', '● act']))
  expect(await page.locator('.grid-row').count()).toBeLessThan(60)
  expect(await page.locator('[role=grid]').getAttribute('aria-rowcount')).toBe('1986')
  expect(await page.locator('.grid-foot').innerText()).toContain('447300')
  expect(await page.locator('.bead').count()).toBe(10)
})

test('runs under its policy: nothing is evaluated from text', async () => {
  const ran = await page.evaluate(async () => {
    setTimeout('document.title = "evaluated"', 0)
    await new Promise((resolve) => setTimeout(resolve, 50))
    return document.title
  })
  expect(ran).toBe('Mellow Abacus')
  expect(faults.join()).toContain('unsafe-eval')
  faults.length = 0
})

test('an edit of a source cell changes its dependents, marks them and says so', async () => {
  expect([await cell(12, 4), await cell(12, 5)]).toEqual(['', 'sample again'])
  await type(12, 2, '12')
  await type(12, 3, '300')
  expect([await cell(12, 4), await cell(12, 5)]).toEqual(['4.00', 'treat'])
  expect(await notice()).toBe('Done: recalculated infestation 1 cell, act 1 cell')
  expect(await page.locator('#cell-12-5').getAttribute('class')).toContain('followed')
  await page.keyboard.press('Control+z')
  expect([await cell(12, 4), await cell(12, 5)]).toEqual(['', 'sample again'])
  await page.keyboard.press('Control+Shift+z')
  expect(await cell(12, 5)).toBe('treat')
})

test('a refused edit says why, and nothing changes', async () => {
  await page.locator('#cell-0-4').click()
  await page.keyboard.press('Enter')
  expect(await notice()).toContain('infestation is calculated, so a cell of it cannot be typed over')
  await type(0, 3, '2.5')
  expect(await notice()).toBe('bees_sampled holds whole numbers; 2.5 would lose its fraction.')
  await type(0, 1, '2026-02-30')
  expect(await notice()).toContain('seen holds dates like 2026-03-14')
  expect([await cell(0, 1), await cell(0, 3)]).toEqual(['2026-03-14', '200'])
})

test('Escape gives an edit up', async () => {
  await page.locator('#cell-0-2').click()
  await page.keyboard.press('F2')
  await page.keyboard.type('99')
  await page.keyboard.press('Escape')
  expect(await cell(0, 2)).toBe('1')
})

test('a definition shows findings while it is typed, then real rows, and is added from the keyboard', async () => {
  const field = page.getByLabel('add a column to inspections')
  await field.fill('risk = if(infestatoin > 2, "high", "low")')
  await expect.poll(() => page.locator('.definition .findings').innerText()).toContain('Nearest name: infestation')
  await page.getByRole('button', { name: 'Use infestation' }).click()
  await expect.poll(() => field.innerText()).toBe('risk = if(infestation > 2, "high", "low")')
  await expect
    .poll(() => page.locator('.definition .findings').innerText())
    .toMatch(/A blank infestation falls into the last branch\. This happens on \d+ rows\./)
  await expect.poll(() => page.locator('.preview').innerText()).toContain('a blank falls through')
  await page.getByRole('button', { name: 'Keep blanks blank' }).click()
  // What is left is in the data: three counts that are no numbers.
  await expect.poll(() => page.locator('.definition .findings li').count()).toBe(1)
  expect(await page.locator('.definition .findings').innerText()).toContain('3 cells of risk hold errors: misfit')
  await field.press('Control+Enter')
  await expect.poll(headings).toContain('● risk')
  expect(await notice()).toContain('recalculated risk 1,986 cells')
  await type(0, 2, '20')
  expect(await cell(0, 10)).toBe('high')
})

test('a definition with a mistake, or a taken name, cannot be added', async () => {
  const field = page.getByLabel('add a column to inspections')
  const add = page.getByRole('button', { name: 'add column' })
  for (const text of ['x', 'x = ', 'x = mites +', 'mites = 1', 'x = hive * 2']) {
    await field.fill(text)
    await expect.poll(() => add.isDisabled()).toBe(true)
  }
  await field.fill('x = 1')
  await expect.poll(() => add.isDisabled()).toBe(false)
})

test('any column sorts up, down and back; an edit does not move the row, and says that the order is old', async () => {
  const infestation = page.getByRole('button', { name: /infestation %/ })
  await infestation.click()
  await infestation.click()
  expect(Number(await cell(0, 4))).toBeGreaterThan(6)
  expect(await page.getByRole('columnheader', { name: /infestation/ }).getAttribute('aria-sort')).toBe('descending')
  await type(0, 2, '0')
  expect(await cell(0, 4)).toBe('0.00')
  await page.getByRole('button', { name: /sort again/ }).click()
  expect(Number(await cell(0, 4))).toBeGreaterThan(5)
  await infestation.click()
  expect(await cell(0, 0)).toBe('MW-06-24')
})

test('arrow keys move through the grid and along the rod', async () => {
  await page.locator('#cell-0-0').click()
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight', 'PageDown']) await page.keyboard.press(key)
  expect(await page.locator('[role=grid]').getAttribute('aria-activedescendant')).toBe('cell-14-1')
  await page.locator('[data-bead="mites"]').focus()
  await page.keyboard.press('ArrowRight')
  expect(await page.locator('[data-bead="bees_sampled"]').getAttribute('aria-pressed')).toBe('true')
  expect(await page.locator('.thread.dependent').count()).toBe(2)
})

test('the editor offers names, explains them, shows the form of a call, and tidies', async () => {
  const field = page.getByLabel('add a column to inspections')
  // The editor reads what was typed a moment after it was, so what it shows is waited for.
  const soon = (read: () => Promise<unknown>): ReturnType<typeof expect.poll> => expect.poll(read, { timeout: 5000 })
  const parameter = (): Promise<string> => page.locator('.note.form b').innerText()
  await field.click()
  await page.keyboard.type('load = round(100*samp')
  await soon(() => page.locator('.cm-tooltip-autocomplete li').allInnerTexts()).toEqual([expect.stringContaining('bees_sampled')])
  await soon(parameter).toBe('value: number')
  // A list that has just opened does not take keys yet, lest it takes one that was meant for the text.
  await page.waitForTimeout(200)
  await page.keyboard.press('Enter')
  await soon(() => field.innerText()).toBe('load = round(100*bees_sampled')
  await page.keyboard.type(', 1')
  await soon(parameter).toBe('digits?: number')
  await page.keyboard.type(')')
  await soon(() => field.innerText()).toBe('load = round(100*bees_sampled, 1)')
  await page.getByRole('button', { name: 'tidy' }).click()
  await soon(() => field.innerText()).toBe('load = round(100 * bees_sampled, 1)')
  await page.locator('.token-column').hover()
  await soon(() => page.locator('.note-title').innerText()).toBe('bees_sampled')
  await page.locator('.definition').getByText('in plain English').click()
  await soon(() => page.locator('.definition .explanation').innerText()).toContain(
    '(100 times bees_sampled) rounded to 1 decimal places',
  )
})

test('what is wrong is underlined where it stands', async () => {
  const field = page.getByLabel('add a column to inspections')
  await field.fill('x = mites + nothing_like_it')
  await expect.poll(() => page.locator('.cm-lintRange-error').allInnerTexts()).toEqual(['nothing_like_it'])
  await expect.poll(() => page.locator('.token-unknown').innerText()).toBe('nothing_like_it')
})

test('removing a column that is used is refused with the ways on, and one of them is taken', async () => {
  await page.locator('[data-bead="mites"]').click()
  await page.getByRole('button', { name: 'remove mites' }).click()
  expect(await notice()).toContain('mites is used by infestation')
  await page.getByRole('button', { name: 'Detach infestation, keeping the values' }).click()
  expect(await page.locator('[data-bead="mites"]').count()).toBe(0)
  await page.locator('[data-bead="infestation"]').click()
  expect(await page.locator('.facts').innerText()).toContain('source column')
  await page.getByRole('button', { name: 'undo' }).click()
  expect(await page.locator('.facts').innerText()).toContain('100 * mites per bees_sampled')
})

test('a column is renamed in every formula, hidden and shown, and detached', async () => {
  await page.locator('[data-bead="mites"]').click()
  await page.getByRole('button', { name: 'rename' }).click()
  await page.getByLabel('new name of mites').fill('mites found')
  await page.keyboard.press('Enter')
  await page.locator('[data-bead="infestation"]').click()
  expect(await page.locator('.facts .formula').innerText()).toBe('100 * `mites found` per bees_sampled')
  await page.getByRole('button', { name: 'hide' }).click()
  expect((await headings()).join()).not.toContain('infestation')
  expect(await page.locator('.hidden-bead').innerText()).toContain('infestation')
  await page.getByRole('button', { name: 'show', exact: true }).click()
  expect((await headings()).join()).toContain('infestation')
  await page.getByRole('button', { name: 'detach' }).click()
  await type(0, 4, '7.5')
  expect(await cell(0, 5)).toBe('treat')
})

test('other tables are shown too', async () => {
  await page.getByLabel('table').selectOption('batches')
  expect(await headings()).toContain('● mark')
  await page.getByLabel('total shown').selectOption('smallest')
  expect(await page.locator('.grid-foot').innerText()).toContain('-3')
})
