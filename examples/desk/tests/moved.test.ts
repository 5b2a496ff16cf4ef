import { test } from 'vitest'
import { cell, onThePage, soon } from './helpers'

const at = onThePage('')

const TAKES = `hive,kg
A,3
B,5
`

test('what moved a figure is told step by step and row by row, between two steps', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'takes.csv', mimeType: 'text/csv', buffer: Buffer.from(TAKES) })
  await page.getByRole('button', { name: 'Take 2 rows' }).click()
  await soon(() => cell(page, 1, 1)).toBe('3')
  await page.locator('#cell-1-1').click()
  await page.getByRole('tab', { name: 'Formula' }).click()
  await page.getByRole('button', { name: 'New calculated column' }).click()
  await page.locator('.cm-content').fill('middle = mean(kg)')
  await page.getByRole('button', { name: 'Add column' }).click()
  await soon(() => cell(page, 1, 2)).toBe('4')
  const type = async (row: number, text: string): Promise<void> => {
    await page.locator(`#cell-${row}-1`).click()
    await page.keyboard.type(text)
    await page.keyboard.press('Enter')
    await soon(() => cell(page, row, 1)).toBe(text)
  }
  await type(1, '7')
  await type(2, '9')
  await soon(() => cell(page, 1, 2)).toBe('8')

  await page.locator('#cell-1-2').click()
  await page.getByRole('tab', { name: 'Why' }).click()
  const slip = page.locator('.slip')
  await slip.getByText('what moved it').click()
  // The last step first: what it brought.
  await soon(() => slip.innerText()).toContain('6 → 8, +2')
  await soon(() => slip.innerText()).toMatch(/row 2\s*\+2/)
  // Further back, and not up to now.
  await slip.getByLabel('before').selectOption({ index: 1 })
  await soon(() => slip.innerText()).toContain('4 → 8, +4')
  await soon(() => slip.innerText()).toMatch(/row 1\s*\+2\s*row 2\s*\+2/)
  await slip.getByLabel('until after').selectOption({ index: 1 })
  await soon(() => slip.innerText()).toContain('4 → 6, +2')
  // Looking back has changed nothing.
  await soon(() => cell(page, 1, 2)).toBe('8')
})
