import { expect, test } from 'vitest'
import { barriers } from './barriers'
import { cell, onThePage, said, soon } from './helpers'

const at = onThePage('')

const MEMBERS = `name,given,hives
Ada Linden,,4
Bea Moor,,12
Cyril van Ash,,7
Dora Peak,,1
`

test('what is typed into an empty column finds its formula: candidates, a question, a draft beside it, one step', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'members.csv', mimeType: 'text/csv', buffer: Buffer.from(MEMBERS) })
  await page.getByRole('button', { name: 'Take 4 rows' }).click()
  await page.locator('#cell-1-1').click()
  await soon(() => page.locator('.slip').innerText()).toContain('Type what should come out into one or two cells of given')
  await page.keyboard.type('Linden')
  await page.keyboard.press('Enter')
  const examples = page.getByRole('region', { name: 'Formulas that give these values' })
  await page.locator('#cell-1-1').click()
  await soon(() => examples.locator('code').allInnerTexts()).toContain('word(name, 2)')
  await soon(() => examples.innerText()).toContain('The first two differ in row 3. What is it there?')
  expect(await barriers(page)).toEqual([])

  // The answer is one more example.
  await examples.getByRole('button', { name: 'Ash', exact: true }).click()
  await soon(() => cell(page, 3, 1)).toBe('Ash')
  await soon(() => examples.locator('code').first().innerText()).toBe('word(name, -1)')
  await examples.getByRole('button', { name: 'Try it: word(name, -1)' }).click()
  // What it would give stands beside what was typed.
  await soon(() => page.locator('.grid-row').nth(1).innerText()).toContain('Moor')
  await page.getByRole('button', { name: 'Use formula' }).click()
  await soon(() => said(page)).toContain('given = word(name, -1)')
  await soon(async () => [await cell(page, 1, 1), await cell(page, 2, 1), await cell(page, 3, 1)]).toEqual([
    'Linden',
    'Moor',
    'Ash',
  ])
  // One step back, and what was typed is there again.
  await page.keyboard.press('Control+z')
  await soon(async () => [await cell(page, 1, 1), await cell(page, 2, 1), await cell(page, 3, 1)]).toEqual([
    'Linden',
    'blank',
    'Ash',
  ])
})

test('words find whole formulas, made of the columns at hand; a press writes one', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'members.csv', mimeType: 'text/csv', buffer: Buffer.from(MEMBERS) })
  await page.getByRole('button', { name: 'Take 4 rows' }).click()
  await page.getByRole('tab', { name: 'Formula' }).click()
  await page.getByRole('button', { name: 'New calculated column' }).click()
  await page.getByText('Functions by what they are for').click()
  await page.getByRole('searchbox', { name: 'What is it to do?' }).fill('running total of hives')
  const formulas = page.getByRole('list', { name: 'Formulas for this purpose' })
  await soon(() => formulas.innerText()).toContain('Row 1: 4. Row 2: 16. Row 3: 23.')
  expect(await barriers(page)).toEqual([])
  await formulas.getByRole('button', { name: 'hives_so_far = cumulative_sum(hives)' }).click()
  await soon(() => page.locator('.cm-content').innerText()).toBe('hives_so_far = cumulative_sum(hives)')
  await page.getByRole('button', { name: 'Add column' }).click()
  await soon(() => page.locator('.grid-row').nth(3).innerText()).toContain('24')
})
