// Takes a picture of a report as a page: node scripts/report-picture.mjs <report.html> <picture.png>
import { pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { QUIET_CHROMIUM } from './open-page.mjs'

const [, , file, picture] = process.argv
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  headless: true,
  args: QUIET_CHROMIUM,
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await page.goto(pathToFileURL(file).href)
// All but the first two groups are folded, as a reader leaves them.
const groups = page.locator('tr.group:not([class*=" i"]) summary')
for (let at = (await groups.count()) - 1; at > 1; at--) await groups.nth(at).click()
await page.evaluate(() => scrollTo(0, 0))
await page.screenshot({ path: picture })
await browser.close()
