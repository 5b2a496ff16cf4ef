// Takes a picture of a chart as a page, in dark surroundings with the pointer in it: node scripts/chart-picture.mjs <chart.html> <picture.png>
import { pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { QUIET_CHROMIUM } from './open-page.mjs'

const [, , file, picture] = process.argv
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  headless: true,
  args: QUIET_CHROMIUM,
})
const page = await browser.newPage({ viewport: { width: 900, height: 580 }, colorScheme: 'dark' })
await page.goto(pathToFileURL(file).href)
await page.waitForSelector('#chart svg .mark-line path')
const box = await page.locator('#chart svg').boundingBox()
for (const step of [0, 4]) await page.mouse.move(box.x + box.width * 0.5 + step, box.y + box.height * 0.55)
await page.waitForSelector('#told:not([hidden])')
await page.screenshot({ path: picture })
await browser.close()
