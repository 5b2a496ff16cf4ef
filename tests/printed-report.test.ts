import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { tableBytes } from '@mellow-abacus/files'
import { type GroupedView, Workbook } from 'mellow-abacus'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openChromium } from './chromium.js'

/** A report as a page of HTML, in Chromium: without script and without network. */

let browser: Browser
beforeAll(async () => {
  browser = await openChromium()
})
afterAll(async () => {
  await browser?.close()
})

const VIEW: GroupedView = {
  table: 'harvests',
  levels: [{ key: 'site' }, { key: 'forage' }],
  columns: [{ name: 'hive', formula: 'hive' }],
  tallies: [{ name: 'total', formula: 'sum(kg)' }],
  details: 'folded',
}

function harvests(): Workbook {
  const book = new Workbook({ now: 0 })
  const rows = Array.from({ length: 240 }, (_, row) => row)
  book.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'site', type: 'text' },
        { name: 'forage', type: 'text' },
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number', unit: 'kg' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: {
        site: rows.map((row) => `site ${row % 4}`),
        forage: rows.map((row) => (row % 7 === 0 ? null : `forage ${row % 3}`)),
        hive: rows.map((row) => `hive <b>${row}</b>`),
        kg: rows.map((row) => row / 3),
      },
    },
  ])
  return book
}

/** The page, opened by a browser that runs no script and reaches nothing. */
async function open(foldedFrom?: number): Promise<{ page: Page; faults: string[]; close: () => Promise<void> }> {
  const bytes = await tableBytes(harvests().group(VIEW), 'html', {
    name: 'by site',
    ...(foldedFrom !== undefined && { foldedFrom }),
  })
  const file = join(mkdtempSync(join(tmpdir(), 'report-')), 'report.html')
  writeFileSync(file, bytes)
  const context = await browser.newContext({ javaScriptEnabled: false, offline: true, viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  const faults: string[] = []
  page.on('console', (message) => faults.push(message.text()))
  page.on('requestfailed', (request) => faults.push(request.url()))
  await page.goto(pathToFileURL(file).href)
  return { page, faults, close: () => context.close() }
}

test('groups fold and unfold, each with all that is under it', async () => {
  const { page, faults, close } = await open(2)
  const visible = async (): Promise<number> => (await page.locator('tbody tr:visible').all()).length
  // Four sites with four forages each, blanks among them, and the whole; rows stand folded.
  expect(await visible()).toBe(21)
  const [site, forage] = [page.locator('tr.group summary').nth(0), page.locator('tr.group summary').nth(1)]
  await forage.click()
  expect(await visible()).toBeGreaterThan(21)
  await site.click()
  expect(await visible()).toBe(17)
  await site.press('Enter')
  expect(await visible()).toBeGreaterThan(21)
  expect(await page.locator('tr.row td').first().textContent()).toMatch(/^hive <b>\d+<\/b>$/)
  expect(faults).toEqual([])
  await close()
})

test('nothing is cut off, and numbers stand under one another', async () => {
  const { page, close } = await open()
  const cells = await page
    .locator('th, td')
    .evaluateAll((all) => all.filter((cell) => cell.scrollWidth > cell.clientWidth + 1).length)
  expect(cells).toBe(0)
  const edges = await page
    .locator('td.n')
    .evaluateAll((all) => new Set(all.map((cell) => Math.round(cell.getBoundingClientRect().right))).size)
  expect(edges).toBe(1)
  await close()
})

test('it prints on several pages of A4, with the heads on each', async () => {
  const { page, close } = await open()
  await page.emulateMedia({ media: 'print' })
  expect(await page.locator('thead').evaluate((head) => getComputedStyle(head).display)).toBe('table-header-group')
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1')
  expect(pdf.match(/\/Type\s*\/Page\b/g)?.length).toBeGreaterThan(2)
  const [, width = 0, height = 0] = (/\/MediaBox\s*\[0 0 ([\d.]+) ([\d.]+)\]/.exec(pdf) ?? []).map(Number)
  expect([Math.round(width), Math.round(height)]).toEqual([595, 842])
  await close()
})
