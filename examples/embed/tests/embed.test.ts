import type { Browser } from 'playwright-core'
import { createServer, type ViteDevServer } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openChromium } from '../../../tests/chromium.js'

/** The page as it is started, in Chromium, while harvests come in. */

const root = new URL('..', import.meta.url).pathname
let server: ViteDevServer
let browser: Browser

beforeAll(async () => {
  server = await createServer({
    root,
    configFile: `${root}vite.config.ts`,
    server: { port: 0, host: '127.0.0.1' },
    logLevel: 'error',
  })
  await server.listen()
  browser = await openChromium()
})
afterAll(async () => {
  await browser?.close()
  await server?.close()
})

test('shows the apiaries, the most honey first, and follows what is put in', async () => {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const faults: string[] = []
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()))
  page.on('pageerror', (error) => faults.push(String(error)))
  await page.goto(server.resolvedUrls?.local[0] ?? '')
  await page.waitForSelector('tbody tr')
  const taken = async (): Promise<number[]> =>
    (await page.locator('tbody td:nth-child(2)').allInnerTexts()).map((text) => Number.parseFloat(text))
  const first = await taken()
  expect(first.length).toBe(8)
  expect(await page.locator('#state').innerText()).toMatch(/^the first 8 of 12 apiaries, after \d+ steps$/)
  await page.evaluate(() => {
    for (const line of document.querySelectorAll('tbody tr')) line.setAttribute('data-first', '')
  })
  await expect.poll(async () => JSON.stringify(await taken()) === JSON.stringify(first), { timeout: 20_000 }).toBe(false)
  const now = await taken()
  expect(now).toEqual([...now].sort((a, b) => b - a))
  // Lines of which nothing has changed are not drawn anew.
  expect(await page.locator('tbody tr[data-first]').count()).toBeGreaterThan(5)
  expect(faults).toEqual([])
})
