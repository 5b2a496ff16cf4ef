import type { Browser, BrowserContext, Page } from 'playwright-core'
import { type PreviewServer, preview } from 'vite'
import { afterAll, afterEach, beforeAll, beforeEach, expect } from 'vitest'
import { openChromium } from '../../../tests/chromium.js'

/** The real page, as it is built and served with its security policy, in headless Chromium. */

const root = new URL('..', import.meta.url).pathname
/** What a file of tests has at hand. */
export interface OnThePage {
  page: Page
  browser: Browser
  url: string
  /** What went wrong on the page; each test ends without any. */
  faults: string[]
}

/** Opens the page anew for each test, at an address behind its `#`. */
export function onThePage(hash: string): OnThePage {
  const at = { faults: [] as string[] } as unknown as OnThePage
  let server: PreviewServer
  let context: BrowserContext
  beforeAll(async () => {
    server = await preview({
      root,
      configFile: `${root}vite.config.ts`,
      preview: { port: 0, host: '127.0.0.1' },
      logLevel: 'error',
    })
    at.url = server.resolvedUrls?.local[0] ?? ''
    at.browser = await openChromium()
    // One profile for all tests of a file: what was compiled once need not be again.
    context = await at.browser.newContext({ viewport: { width: 1280, height: 800 } })
  })
  afterAll(async () => {
    await at.browser?.close()
    await new Promise((resolve) => server.httpServer.close(resolve))
  })
  beforeEach(async () => {
    at.page = await context.newPage()
    at.page.setDefaultTimeout(60_000)
    at.faults = []
    at.page.on('console', (message) => message.type() === 'error' && at.faults.push(message.text()))
    at.page.on('pageerror', (error) => at.faults.push(String(error)))
    await at.page.goto(at.url + hash)
    if (hash !== '') await at.page.waitForSelector('.grid-row [role=gridcell]')
  })
  afterEach(async () => {
    await at.page.close({ runBeforeUnload: false })
    expect(at.faults).toEqual([])
  })
  return at
}

/** Waits until what is read is so. */
export const soon = (read: () => Promise<unknown>): ReturnType<typeof expect.poll> => expect.poll(read, { timeout: 30_000 })

/** The text of a cell by its place: rows from 1, columns from 0. */
export const cell = (page: Page, row: number, column: number): Promise<string> =>
  page.locator(`#cell-${row}-${column}`).innerText()

/** Names of the columns whose headings are drawn. */
export const headings = (page: Page): Promise<string[]> => page.locator('.head-name').allInnerTexts()

/** Goes to a column by its name, wherever it stands. */
export async function goTo(page: Page, column: string): Promise<void> {
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: /find/i }).fill(column)
  // What is offered follows what is typed a moment later.
  const offered = page.locator('.find-item')
  await soon(() => offered.evaluateAll((all, of) => all.every((one) => one.textContent?.includes(of)), column)).toBe(true)
  await page.locator('.find-item').filter({ hasText: column }).first().click()
  await soon(() => page.locator('.head-cell.picked .head-name').innerText()).toBe(column)
}

/** Types a value into the current cell. */
export async function typeInto(page: Page, text: string): Promise<void> {
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
}

/** What is said at the bottom. */
export const said = (page: Page): Promise<string> => page.locator('.said').innerText()
