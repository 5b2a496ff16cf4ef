// Pictures of the page for docs/screenshots, made from the demo data.
import { fileURLToPath } from 'node:url'
import { openPage } from './open-page.mjs'

const at = (name) => fileURLToPath(new URL(`../docs/screenshots/${name}.png`, import.meta.url))
const { page, faults, close } = await openPage()
const field = page.getByLabel('add a column to inspections')
await field.click()
await page.keyboard.type('risk = if(infestation > 2 and sto')
await page.waitForTimeout(400)
await page.screenshot({ path: at('desk-completion') })
await page.keyboard.press('Enter')
await field.fill('risk = if(infestation > 2 and stores_kg < 8, "high", "low")')
await page.waitForTimeout(300)
await page.screenshot({ path: at('desk-definition') })
await field.fill('')
await page.click('#cell-12-2')
for (const text of ['12', '300']) {
  await page.keyboard.press('Enter')
  await page.keyboard.type(text)
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowRight')
}
await page.keyboard.press('ArrowLeft')
await page.waitForTimeout(250)
await page.screenshot({ path: at('desk-edit') })
await close()
if (faults.length > 0) throw new Error(`the page complained: ${faults.join('; ')}`)
