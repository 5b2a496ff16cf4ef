import type { Page } from 'playwright-core'
import { beforeEach, expect, test } from 'vitest'
import { barriers } from './barriers'
import { cell, goTo, onThePage, said, soon } from './helpers'

const at = onThePage('')

const PLACES = `place,inside,hives
Upper orchard,Orchard,4
Hill,,9
Orchard,Hill,6
Lower orchard,Orchard,2
Meadow,,3
River meadow,Meadow,2
Heath,Hill,3
`

/** The rows one after the other, further in by how deep they stand. */
const rows = (page: Page): Promise<string[]> =>
  page.locator('.grid-row').evaluateAll((all) =>
    all
      .map((row) => ({
        place: Number(row.getAttribute('aria-rowindex')),
        text: `${'  '.repeat(Number(row.getAttribute('aria-level') ?? 1) - 1)}${row.querySelector('[id$="-0"]')?.textContent}`,
      }))
      .sort((one, other) => one.place - other.place)
      .map(({ text }) => text),
  )
const whole = ['Hill', '  Orchard', '    Upper orchard', '    Lower orchard', '  Heath', 'Meadow', '  River meadow']
const handle = (page: Page, place: number) => page.locator(`.grid-row[aria-rowindex="${place + 1}"] .row-fold`)
const here = (page: Page): Promise<string | null> => page.getByRole('treegrid').getAttribute('aria-activedescendant')
const rowMenu = async (page: Page, place: number, item: string): Promise<void> => {
  await page.locator(`#cell-${place}-0`).click({ button: 'right' })
  await page.getByRole('menuitem', { name: item, exact: true }).click()
}

beforeEach(async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'places.csv', mimeType: 'text/csv', buffer: Buffer.from(PLACES) })
  await page.getByRole('button', { name: 'Take 7 rows' }).click()
  await page.locator('.grid-row').first().waitFor()
  // What rows are named by, and which column says what they stand below, is said in the slip.
  await page.getByRole('tab', { name: 'Column' }).click()
  await page.getByLabel('named by').selectOption('place')
  await page.getByLabel('stand below').selectOption('inside')
  await soon(() => rows(page)).toEqual(whole)
})

test('rows stand below their parents; they are folded and unfolded by a press, a menu and keys', async () => {
  const { page } = at
  expect(await page.locator('.grid-row[aria-rowindex="2"]').getAttribute('aria-expanded')).toBe('true')
  expect(await page.locator('.grid-row[aria-rowindex="4"]').getAttribute('aria-expanded')).toBeNull()
  await handle(page, 2).click()
  await soon(() => rows(page)).toEqual(['Hill', '  Orchard+2', '  Heath', 'Meadow', '  River meadow'])
  expect(await here(page)).toBe('cell-2-0')
  expect(await page.locator('.grid-row[aria-rowindex="3"]').getAttribute('aria-expanded')).toBe('false')
  await page.keyboard.press('Alt+ArrowRight')
  await soon(() => rows(page)).toEqual(whole)
  // From a row with nothing below it to the one it is below, and that folded.
  await page.locator('#cell-4-0').click()
  await page.keyboard.press('Alt+ArrowLeft')
  await soon(() => here(page)).toBe('cell-2-0')
  await page.keyboard.press('Alt+ArrowLeft')
  await soon(() => rows(page)).toContain('  Orchard+2')
  await rowMenu(page, 2, 'Unfold all')
  await soon(() => rows(page)).toEqual(whole)
  await rowMenu(page, 4, 'Fold all')
  await soon(() => rows(page)).toEqual(['Hill+4', 'Meadow+1'])
  await handle(page, 1).click()
  await soon(() => rows(page)).toEqual(['Hill', '  Orchard+2', '  Heath', 'Meadow+1'])
  // Hidden columns take the handles away with them nowhere: they stand at the head of the row.
  await page.locator('.head-cell').filter({ hasText: 'hives' }).click({ button: 'right' })
  await page.getByRole('menuitem', { name: 'Hide', exact: true }).click()
  await soon(() => page.locator('.head-cell').count()).toBe(2)
  expect(await page.locator('.row-fold').count()).toBe(3)
  expect(await barriers(page)).toEqual([])
})

test('a cell that is folded away is gone to all the same, and a sum is of what is shown', async () => {
  const { page } = at
  await rowMenu(page, 1, 'Fold all')
  await soon(() => rows(page)).toEqual(['Hill+4', 'Meadow+1'])
  await page.locator('#cell-1-2').click()
  await page.keyboard.press('Control+Shift+ArrowDown')
  await soon(() => page.locator('.selection-sum').innerText()).toContain('2 × 1 · sum 12')
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: /find/i }).fill('Lower orchard')
  await page.locator('.find-item').filter({ hasText: 'Lower orchard' }).first().click()
  await soon(() => here(page)).toBe('cell-4-0')
  expect(await rows(page)).toEqual(whole)
})

test('rows are put in, moved, and put below others and out again, each a step', async () => {
  const { page } = at
  await rowMenu(page, 3, 'Put a row in below')
  await soon(() => rows(page)).toEqual([...whole.slice(0, 3), '    blank', ...whole.slice(3)])
  expect([await here(page), await cell(page, 4, 1)]).toEqual(['cell-4-0', 'Orchard'])
  await page.keyboard.press('Control+z')
  await soon(() => rows(page)).toEqual(whole)

  await page.locator('#cell-4-0').click()
  await page.keyboard.press('Alt+Shift+ArrowUp')
  const moved = ['Hill', '  Orchard', '    Lower orchard', '    Upper orchard', '  Heath', 'Meadow', '  River meadow']
  await soon(() => rows(page)).toEqual(moved)
  await soon(() => here(page)).toBe('cell-3-0')
  // It is the first one already.
  await page.keyboard.press('Alt+Shift+ArrowUp')
  await page.keyboard.press('Alt+Shift+ArrowDown')
  await soon(() => rows(page)).toEqual(whole)

  await page.locator('#cell-6-0').click()
  await page.keyboard.press('Alt+Shift+ArrowRight')
  // Among its new siblings it stands as it does in the table: before the heath.
  await soon(() => rows(page)).toEqual([...whole.slice(0, 4), '  Meadow', '    River meadow', '  Heath'])
  await soon(() => said(page)).toContain('Row 6 put below row 1')
  await soon(() => here(page)).toBe('cell-5-0')
  await page.keyboard.press('Alt+Shift+ArrowRight')
  await soon(() => rows(page)).toEqual([...whole.slice(0, 4), '    Meadow', '      River meadow', '  Heath'])
  await page.keyboard.press('Alt+Shift+ArrowLeft')
  await soon(() => said(page)).toContain('Row 5 put out of row 2')
  await page.keyboard.press('Alt+Shift+ArrowLeft')
  await soon(() => rows(page)).toEqual(whole)
  // Sorted, siblings are: nothing is moved then.
  await goTo(page, 'hives')
  await page.keyboard.press('Alt+ArrowUp')
  await soon(() => rows(page)).toEqual([
    'Meadow',
    '  River meadow',
    'Hill',
    '  Heath',
    '  Orchard',
    '    Lower orchard',
    '    Upper orchard',
  ])
  await page.keyboard.press('Alt+Shift+ArrowDown')
  await soon(() => said(page)).toContain('another order than they stand')
})
