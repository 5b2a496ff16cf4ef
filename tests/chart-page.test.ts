import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { chartDrawing, drawingBytes } from '@mellow-abacus/charts'
import { Workbook } from 'mellow-abacus'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openChromium } from './chromium.js'

/** A chart as a page, in Chromium: without network, and without text evaluated as code. */

let browser: Browser
let file: string
beforeAll(async () => {
  browser = await openChromium()
  file = await chartFile()
})
afterAll(async () => {
  await browser?.close()
})

/** The page of a chart of three series. Its policy lets scripts run that stand in it, and none that is made of text. */
async function chartFile(): Promise<string> {
  const book = new Workbook({ now: 0 })
  const days = Array.from({ length: 20 }, (_, day) => day)
  book.apply([
    {
      op: 'add-table',
      table: 'colonies',
      columns: [
        { name: 'week', type: 'integer' },
        { name: 'brood', type: 'number', unit: 'frames' },
        { name: 'stores', type: 'number', unit: 'kg' },
        { name: 'mites', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'colonies',
      block: {
        week: days,
        brood: days.map((day) => 5 + (day % 4)),
        stores: days.map((day) => 40 - day),
        mites: days.map((day) => day / 7),
      },
    },
  ])
  const drawing = chartDrawing(
    book.chart({
      table: 'colonies',
      x: 'week',
      series: [
        { formula: 'brood', kind: 'line' },
        { formula: 'stores', kind: 'line' },
        { formula: 'mites', kind: 'point', axis: 'right' },
      ],
      title: 'Colonies </script><b>of spring</b>',
    }),
  )
  const policy = `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; script-src 'unsafe-inline'; style-src 'unsafe-inline'">`
  const html = new TextDecoder().decode(await drawingBytes(drawing, 'html'))
  const path = join(mkdtempSync(join(tmpdir(), 'chart-')), 'chart.html')
  writeFileSync(path, html.replace('<head>', `<head>${policy}`))
  return path
}

interface Opened {
  readonly page: Page
  readonly faults: string[]
  readonly close: () => Promise<void>
}

async function open(
  options: { readonly colorScheme?: 'light' | 'dark'; readonly javaScriptEnabled?: boolean } = {},
): Promise<Opened> {
  const context = await browser.newContext({ offline: true, viewport: { width: 1280, height: 800 }, ...options })
  const page = await context.newPage()
  const faults: string[] = []
  page.on('console', (message) => faults.push(message.text()))
  page.on('pageerror', (error) => faults.push(error.message))
  page.on('requestfailed', (request) => faults.push(request.url()))
  await page.goto(pathToFileURL(file).href)
  await page.waitForSelector('#chart svg')
  return { page, faults, close: () => context.close() }
}

const lines = '#chart svg .mark-line.role-mark path'

test('an entry of the legend takes its series out, and puts it back', async () => {
  const { page, faults, close } = await open()
  await page.waitForSelector(lines)
  const drawn = (): Promise<number> => page.locator(lines).count()
  expect(await drawn()).toBe(2)
  const entry = page.locator('#chart svg .role-legend-label text', { hasText: 'stores' })
  const click = async (): Promise<void> => {
    const box = await entry.boundingBox()
    await page.mouse.click((box?.x ?? 0) + 4, (box?.y ?? 0) + (box?.height ?? 0) / 2)
  }
  await click()
  await expect.poll(drawn).toBe(1)
  await click()
  await expect.poll(drawn).toBe(2)
  expect(faults).toEqual([])
  await close()
})

test('the pointer tells all series at the x nearest to it', async () => {
  const { page, faults, close } = await open()
  await page.waitForSelector(lines)
  const box = await page.locator('#chart svg').boundingBox()
  for (const step of [0, 3]) await page.mouse.move((box?.x ?? 0) + 360 + step, (box?.y ?? 0) + 250)
  await expect.poll(() => page.locator('#told').isVisible()).toBe(true)
  const rows = await page.locator('#told tr').allTextContents()
  const [, week = ''] = /^week(\d+)$/.exec(rows[0] ?? '') ?? []
  expect(rows).toHaveLength(4)
  expect(rows[2]).toBe(`stores (kg)${40 - Number(week)}`)
  await page.mouse.move(5, 5)
  await expect.poll(() => page.locator('#told').isVisible()).toBe(false)
  expect(faults).toEqual([])
  await close()
})

test('it is drawn for dark surroundings, also when they change', async () => {
  const { page, close } = await open({ colorScheme: 'dark' })
  await page.waitForSelector(lines)
  const colour = (): Promise<string | null> => page.locator(lines).first().getAttribute('stroke')
  expect(await colour()).toBe('#6fd0da')
  await page.emulateMedia({ colorScheme: 'light' })
  await expect.poll(colour).toBe('#0a6470')
  await close()
})

test('without scripts the drawing is there, and what it is called is text', async () => {
  const { page, close } = await open({ javaScriptEnabled: false })
  expect(await page.locator('#chart svg text', { hasText: 'Colonies </script><b>of spring</b>' }).count()).toBe(1)
  expect(await page.locator('b').count()).toBe(0)
  await close()
})
