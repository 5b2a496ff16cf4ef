import { expect, test } from 'vitest'
import { barriers } from './barriers'
import { goTo, onThePage, soon } from './helpers'

const at = onThePage('#demo')

test('all rows that an aggregate took are opened below it, worked in, shown alone and closed', async () => {
  const { page } = at
  const value = page.locator('.why-value')
  await goTo(page, 'honey')
  await page.locator('.grid-row').nth(15).locator('.here, [id$="-8"]').first().click()
  await soon(() => page.locator('.cell.here').innerText()).toBe('35.01')
  await page.getByRole('tab', { name: 'Why' }).click()
  await page.getByRole('button', { name: 'all 4 rows' }).click()
  const beside = page.getByRole('region', { name: '4 rows of harvests in hives.honey, row 16, beside' })
  await soon(() => beside.locator('.grid-row').count()).toBe(4)
  await soon(() => beside.locator('.beam').innerText()).toContain('35.01 kg')
  // The cell that was looked at is still in sight above them.
  const [cell, main] = [page.locator('#cell-16-8'), page.locator('.grid-scroll').first()]
  const bottomOf = async (of: typeof cell): Promise<number> => {
    const box = await of.boundingBox()
    return (box?.y ?? 0) + (box?.height ?? 0)
  }
  await soon(async () => (await bottomOf(cell)) <= (await bottomOf(main))).toBe(true)
  expect(await value.innerText()).toContain('35.01')
  expect(await barriers(page)).toEqual([])

  // The slip is about the cell that is worked at, and what is typed below is felt above.
  await page.locator('#beside-cell-2-4').click()
  await soon(() => value.innerText()).toContain('10.86')
  await page.keyboard.type('20.86')
  await page.keyboard.press('Enter')
  await soon(() => cell.innerText()).toBe('45.01')
  await soon(() => beside.locator('.beam').innerText()).toContain('45.01 kg')
  await page.locator('#cell-15-8').click()
  await soon(() => value.innerText()).toContain('14.43')

  await beside.getByRole('button', { name: 'Close the rows beside' }).click()
  await soon(() => page.locator('.beside').count()).toBe(0)
  await page.locator('#cell-16-8').click()
  await page.getByRole('button', { name: 'all 4 rows' }).click()
  // So is a condition: it begins with the rows that were taken.
  await page.locator('#beside-cell-0-1').click({ button: 'right' })
  await page.getByRole('menuitem', { name: /^Show some/ }).click()
  await soon(() => page.locator('.beside').count()).toBe(0)
  const condition = page.getByRole('dialog', { name: 'Rows shown' })
  await soon(() => condition.getByPlaceholder(/infestation/).inputValue()).toContain('row_number() in (')
  await page.keyboard.press('Escape')
  await page.locator('.frame-table', { hasText: 'hives' }).first().click()
  // The table before has a cell of that place as well: the one that is meant has this value.
  await soon(() => cell.innerText()).toBe('45.01')
  // The place where one was is found again when the table has come: a press before that is over with it.
  const all = page.getByRole('button', { name: 'all 4 rows' })
  await soon(async () => {
    await cell.click()
    return all.count()
  }).toBe(1)
  await all.click()
  // A column that is written for them is written where they are shown alone.
  await page.locator('#beside-cell-1-1').click({ button: 'right' })
  await page.keyboard.press('Escape')
  await page.getByRole('tab', { name: 'Formula' }).click()
  await page.getByRole('button', { name: 'New calculated column' }).click()
  await soon(() => page.locator('.beside').count()).toBe(0)
  await soon(() => page.locator('.frame-table[aria-current]').innerText()).toContain('harvests')
  await soon(() => page.locator('.grid-row').count()).toBe(4)
})
