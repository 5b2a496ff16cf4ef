// Pictures of the page for docs/screenshots, made from the demo data.
import { fileURLToPath } from 'node:url'
import { openPage } from './open-page.mjs'

const at = (name) => fileURLToPath(new URL(`../docs/screenshots/${name}.png`, import.meta.url))
const { page, faults, close } = await openPage()
const calm = () => page.waitForTimeout(900)

// A definition while it is typed: what is to be said of it, and what it would give on the rows that tell most.
await page.locator('#cell-1-2').click()
await page.getByRole('button', { name: '+ column' }).click()
await page
  .getByLabel('new column of inspections')
  .fill("risk =\n  case\n    when infestation > 2 and stores_kg < 8\n      then 'high'\n    else 'low'\n  end")
await calm()
// The list of names.
await page.keyboard.press('Escape')
await page.screenshot({ path: at('desk-definition') })
await page.getByRole('button', { name: 'Give up' }).click()

// An edit, what followed of it, and why a value is what it is.
await page.locator('#cell-3-2').click()
await page.keyboard.type('12')
await page.keyboard.press('Enter')
await page.keyboard.press('Control+k')
await page.keyboard.type('act')
await page.locator('.find-item', { hasText: 'act' }).first().click()
await page.locator('[aria-rowindex="4"] .cell.calculated').nth(1).click()
await page.getByRole('tab', { name: 'Why' }).click()
await calm()
await page.screenshot({ path: at('desk-edit') })

// All there is to say, in the dark.
await page.emulateMedia({ colorScheme: 'dark' })
await page.getByRole('tab', { name: /Findings/ }).click()
await calm()
await page.screenshot({ path: at('desk-findings') })
await close()
if (faults.length > 0) throw new Error(`the page complained: ${faults.join('; ')}`)
