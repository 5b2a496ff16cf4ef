import { expect, test } from 'vitest'
import { cell, onThePage, said, soon } from './helpers'

const at = onThePage('')

const TAKES = `hive,kg,jar_g
A,3,500
B,5.5,250
`

test('a unit is shown with all that comes from it; what does not go together is converted by a press', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'takes.csv', mimeType: 'text/csv', buffer: Buffer.from(TAKES) })
  await page.getByRole('button', { name: 'Take 2 rows' }).click()
  const unitOf = async (column: number, unit: string): Promise<void> => {
    await page.locator(`#cell-1-${column}`).click()
    await page.getByRole('tab', { name: 'Column' }).click()
    await page.getByLabel('unit', { exact: true }).fill(unit)
    await page.keyboard.press('Enter')
    await soon(() => said(page)).toContain('unit set')
  }
  await unitOf(1, 'kg')
  await soon(() => page.getByRole('columnheader', { name: 'kg, ' }).innerText()).toContain('kg')
  await unitOf(2, 'g')
  await page.getByRole('tab', { name: 'Formula' }).click()
  await page.getByRole('button', { name: 'New calculated column' }).click()
  await page.locator('.cm-content').fill('left = kg - jar_g')
  await soon(() => page.locator('.slip').innerText()).toContain('kg is in kg, jar_g in g: one of them has to be converted.')
  await page.getByRole('button', { name: "Convert: convert(jar_g, 'kg')" }).click()
  await soon(() => page.locator('.slip dl').innerText()).toContain('number in kg')
  await page.getByRole('button', { name: 'Add column' }).click()
  await soon(() => cell(page, 1, 3)).toBe('2.50')
  await soon(() => page.getByRole('columnheader', { name: /^left/ }).allInnerTexts()).toEqual([expect.stringContaining('kg')])

  // Another unit of a source says what is in another one now; a conversion is calculated anew.
  await unitOf(2, 'kg')
  await soon(() => cell(page, 1, 3)).toBe('-497.00')
  await unitOf(1, 'lb')
  await soon(() => said(page)).toContain('in another unit: left kg → none')
})
