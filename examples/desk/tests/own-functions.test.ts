import { expect, test } from 'vitest'
import { cell, onThePage, said, soon } from './helpers'

const at = onThePage('')

const TAKES = `hive,mites,bees
A,3,300
B,6,200
`

test('a function of the workbook is defined, called, explained in its steps, set anew and given another name', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'takes.csv', mimeType: 'text/csv', buffer: Buffer.from(TAKES) })
  await page.getByRole('button', { name: 'Take 2 rows' }).click()
  await soon(() => cell(page, 1, 1)).toBe('3')

  // What is wrong is said before it is kept.
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('Find or do anything').fill('New function')
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog', { name: 'New function' })
  await dialog.getByLabel('name').fill('per_hundred')
  await dialog.getByLabel('is given').fill('part, whole')
  await dialog.getByLabel('formula').fill('100 * part per bees')
  await soon(() => dialog.innerText()).toContain('The function per_hundred has no column or value called bees.')
  expect(await dialog.getByRole('button', { name: 'Keep it' }).isDisabled()).toBe(true)
  await dialog.getByLabel('formula').fill('100 * part per whole')
  await dialog.getByLabel('note').fill('As a percentage')
  await dialog.getByRole('button', { name: 'Keep it' }).click()
  await soon(() => said(page)).toContain('function per_hundred kept')
  await soon(() => page.locator('.frame').innerText()).toContain('(part: number, whole: number)')

  // It is offered where formulas are written, with its form.
  await page.locator('#cell-1-2').click()
  await page.getByRole('tab', { name: 'Formula' }).click()
  await page.getByRole('button', { name: 'New calculated column' }).click()
  await page.locator('.cm-content').fill('share = per_')
  await soon(() => page.locator('.cm-tooltip-autocomplete').innerText()).toContain('per_hundred')
  await page.locator('.cm-content').fill('share = per_hundred(mites, bees)')
  await page.getByRole('button', { name: 'Add column' }).click()
  await soon(() => cell(page, 1, 3)).toBe('1')

  // Why opens the call into what the function does.
  await page.locator('#cell-2-3').click()
  await page.getByRole('tab', { name: 'Why' }).click()
  await soon(() => page.locator('.slip').innerText()).toContain('100 * part per whole with part = mites, whole = bees')

  // Set anew it says what follows; with another name formulas follow.
  await page
    .locator('.frame')
    .getByRole('button', { name: /^per_hundred/ })
    .click()
  const again = page.getByRole('dialog', { name: 'Function per_hundred' })
  await again.getByLabel('formula').fill('1000 * part per whole')
  await soon(() => again.innerText()).toContain('It calculates 2 cells of takes.share anew.')
  await again.getByLabel('name').fill('per_thousand')
  await again.getByRole('button', { name: 'Keep it' }).click()
  await soon(() => cell(page, 1, 3)).toBe('10')
  await page.getByRole('tab', { name: 'Formula' }).click()
  await soon(() => page.locator('.slip').innerText()).toContain('per_thousand(mites, bees)')

  // While it is called it stays.
  await page
    .locator('.frame')
    .getByRole('button', { name: /^per_thousand/ })
    .click()
  await page.getByRole('button', { name: 'Remove it' }).click()
  await soon(() => said(page)).toContain('per_thousand is called by takes.share')
})
