// Pictures of the page for docs/screenshots, made from the demo data.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium } from 'playwright-core'
import { pageFolder, pagePolicy } from '../packages/desk/dist/index.js'
import { startServer, TokenFile } from '../packages/server/dist/index.js'
import { openPage, QUIET_CHROMIUM } from './open-page.mjs'

const at = (name) => fileURLToPath(new URL(`../docs/screenshots/${name}.png`, import.meta.url))
const { page, faults, close } = await openPage()
const calm = (tab = page) => tab.waitForTimeout(1_200)
const goTo = async (column) => {
  await page.keyboard.press('Control+k')
  await page.keyboard.type(column)
  await page.locator('.find-item', { hasText: column }).first().click()
}
/** The large table comes a moment after the first rows. */
await page.locator('.frame-table', { hasText: 'readings' }).waitFor()

// The frame with all rods, and the threads of a column that is picked.
await goTo('infestation')
await calm()
await page.screenshot({ path: at('desk-model') })
await page.emulateMedia({ colorScheme: 'dark' })
await calm()
await page.screenshot({ path: at('desk-dark') })
await page.emulateMedia({ colorScheme: 'light' })

// A definition while it is typed: a column among the others, the rows that tell most, and what is to be said of it.
await page.locator('.grid-scroll').focus()
await page.keyboard.press('Control+Home')
await page.locator('#cell-1-2').click()
await page.getByRole('button', { name: '+ column' }).click()
await page
  .getByLabel('new column of inspections')
  .fill("risk =\n  case\n    when infestation > 2 and stores_kg < 8\n      then 'high'\n    else 'low'\n  end")
await calm()
// The list of names.
await page.keyboard.press('Escape')
await page.screenshot({ path: at('desk-draft') })
await page.getByRole('button', { name: 'Give up' }).click()

// Why a total is what it is: all rows that it took, below the table that has it.
await goTo('honey')
await page.locator('[aria-rowindex="17"] .cell.calculated').nth(3).click()
await page.getByRole('tab', { name: 'Why' }).click()
await page.getByRole('button', { name: /^all \d+ rows$/ }).click()
await page.locator('.beside .grid-row').first().waitFor()
await calm()
await page.screenshot({ path: at('desk-why') })
await page.getByRole('button', { name: 'Close the rows beside' }).click()

// An edit, and what followed of it.
await goTo('mites')
await page.locator('.cell.here').waitFor()
await page.keyboard.type('12')
await page.keyboard.press('Enter')
await goTo('act')

// All there is to say.
await page.getByRole('tab', { name: /Findings/ }).click()
await calm()
await page.screenshot({ path: at('desk-findings') })

// A report and a chart that are kept.
await page.locator('.frame-view', { hasText: 'by_apiary' }).click()
await calm()
await page.screenshot({ path: at('desk-report') })
await page.locator('.frame-view', { hasText: 'colonies' }).last().click()
await page.locator('.chart-view img').waitFor()
await calm()
await page.screenshot({ path: at('desk-chart') })
await close()

// Two at one workbook of a server: who is where, and a cell in which their edits met.
const folder = mkdtempSync(join(tmpdir(), 'together-'))
const mellow = fileURLToPath(new URL('../packages/cli/bin/mellow.js', import.meta.url))
execFileSync(process.execPath, [mellow, 'demo', folder], { stdio: 'ignore' })
const tokens = new TokenFile(folder)
const tokenOf = (name) => tokens.add({ name, books: ['thistle-and-comb'], role: 'define' }).token
const shown = { page: { folder: pageFolder, policy: pagePolicy } }
const server = await startServer({ folder, port: 0, log: 'error', rate: 0 }, shown)
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  headless: true,
  args: QUIET_CHROMIUM,
})
const tabOf = async (name) => {
  const tab = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage()
  tab.on('pageerror', (error) => faults.push(String(error)))
  await tab.goto(`${server.url}/#book=/books/thistle-and-comb&token=${tokenOf(name)}`)
  await tab.locator('.frame-table', { hasText: 'inspections' }).click()
  await tab.locator('#cell-9-3').waitFor()
  return tab
}
const type = async (tab, cell, text) => {
  await tab.locator(cell).click()
  await tab.keyboard.type(text)
  await tab.keyboard.press('Enter')
}
const ada = await tabOf('Ada Linden')
const bea = await tabOf('Bea Moor')
await ada.context().setOffline(true)
await ada.locator('.saving', { hasText: 'no connection' }).waitFor()
await type(ada, '#cell-4-2', '5')
await type(bea, '#cell-4-2', '7')
await calm(bea)
await ada.context().setOffline(false)
await ada.locator('.meetings .card').waitFor()
await ada.locator('#cell-6-2').click()
await type(bea, '#cell-9-2', '4')
await bea.locator('#cell-12-3').click()
await ada.locator('#cell-12-3[data-visitor]').waitFor()
await ada.screenshot({ path: at('desk-together') })
await browser.close()
await server.close()
rmSync(folder, { recursive: true, force: true })
if (faults.length > 0) throw new Error(`the page complained: ${faults.join('; ')}`)
