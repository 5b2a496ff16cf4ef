import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { cell, goTo, headings, onThePage, said, soon, typeInto } from './helpers'

const at = onThePage('#demo')

const menu = async (page: Page, heading: string, item: string): Promise<void> => {
  await page.locator('.head-cell').filter({ hasText: heading }).first().click({ button: 'right' })
  await page.getByRole('menuitem', { name: item, exact: true }).click()
}
const rowMenu = async (page: Page, place: string, item: string): Promise<void> => {
  await page.locator(place).click({ button: 'right' })
  await page.getByRole('menuitem', { name: item }).click()
}
const here = (page: Page): Promise<string | null> => page.getByRole('grid').getAttribute('aria-activedescendant')

test('rows stand in groups with their totals, which are folded and unfolded; each below its own', async () => {
  const { page } = at
  await menu(page, 'hive', 'In groups by this')
  const groups = page.locator('.group-line')
  await soon(() => groups.first().innerText()).toMatch(/AF-01-24\s*10 rows/)
  await soon(() => groups.first().innerText()).toContain('94.5 kg')
  expect(await cell(page, 1, 0)).toBe('AF-01-24')
  expect(await cell(page, 11, 0)).toBe('AF-02-24')
  await groups.first().getByRole('button').click()
  await soon(() => cell(page, 1, 0)).toBe('AF-02-24')
  expect(await groups.first().getByRole('button').getAttribute('aria-expanded')).toBe('false')
  // By the keyboard: the group of the current row, and all again.
  await page.locator('#cell-1-0').click()
  await page.keyboard.press('Alt+ArrowLeft')
  await soon(() => cell(page, 1, 0)).toBe('AF-03-24')
  await page.keyboard.press('Alt+ArrowRight')
  await soon(() => cell(page, 1, 0)).toBe('AF-01-24')
  // The last row is reached past all lines of groups.
  await page.keyboard.press('Control+ArrowDown')
  await soon(() => page.locator('#cell-1986-0').count()).toBe(1)
  await menu(page, 'hive', 'In no groups')
  await soon(() => groups.count()).toBe(0)

  await goTo(page, 'infestation')
  await menu(page, 'act', 'In groups by this')
  const shown = (): Promise<string[]> =>
    page.locator('.group-line .group-fold').evaluateAll((all) => all.map((one) => one.textContent ?? ''))
  await soon(async () => (await shown()).length).toBeGreaterThan(0)
  await page.getByRole('grid').focus()
  await page.keyboard.press('Control+ArrowUp')
  for (let turn = 0; turn < 4; turn++) {
    const mixed = await page.evaluate(() => {
      const lines = [...document.querySelectorAll<HTMLElement>('.group-line, .grid-row')].map((line) => ({
        top: new DOMMatrix(getComputedStyle(line).transform).m42,
        key: line.querySelector('.group-fold')?.childNodes[1]?.textContent,
        text: [...line.querySelectorAll('[role=gridcell]')].map((one) => one.textContent ?? ''),
        title: line.querySelector('.group-fold')?.textContent ?? null,
      }))
      lines.sort((a, b) => a.top - b.top)
      let group = ''
      return lines.filter(({ title, text }) => {
        if (title !== null) group = title.slice(2).replace(/[\d,]+ rows?$/, '')
        return title === null && group !== '' && !text.some((one) => one === group.trim() || group.trim() === '(blank)')
      })
    })
    expect(mixed).toEqual([])
    await page.locator('.group-fold').first().click()
    await page.waitForTimeout(150)
  }
})

test('what is picked is added up, as far as it adds up', async () => {
  const { page } = at
  const sum = page.locator('.selection-sum')
  await page.locator('#cell-1-5').click()
  await page.locator('#cell-3-5').click({ modifiers: ['Shift'] })
  await soon(() => sum.innerText()).toBe('3 × 1 · sum 30.2 · mean 10.0667 · 3 values')
  // Frames and kilograms add up to nothing; blanks are no values.
  await page.locator('#cell-5-4').click({ modifiers: ['Shift'] })
  await soon(() => sum.innerText()).toBe('5 × 2 · 9 values')
  await page.keyboard.press('Control+a')
  await soon(() => sum.innerText()).toMatch(/^1,986 × 15 · 2\d,\d+ values$/)
  // A whole column, of which most is out of sight.
  await page.locator('#cell-1-5').click()
  await page.keyboard.press('Control+Shift+ArrowDown')
  await soon(() => sum.innerText()).toMatch(/^1,986 × 1 · sum 23030\.4 · mean 12\.\d+ · 1,\d+ values$/)
})

test('rows are put in, moved and removed where one is, and taken back; one is filled in as a form', async () => {
  const { page } = at
  const first = await cell(page, 1, 0)
  await rowMenu(page, '#cell-2-0', 'Put a row in above')
  await soon(() => said(page)).toContain('A row put in at 2')
  await soon(() => cell(page, 2, 0)).toBe('blank')
  expect(await here(page)).toBe('cell-2-0')
  await page.keyboard.press('Alt+Shift+ArrowUp')
  await soon(() => cell(page, 1, 0)).toBe('blank')
  expect(await cell(page, 2, 0)).toBe(first)
  expect(await here(page)).toBe('cell-1-0')
  await page.keyboard.press('Alt+Shift+ArrowDown')
  await soon(() => cell(page, 1, 0)).toBe(first)
  await rowMenu(page, '#cell-2-0', 'Remove the row')
  await soon(() => said(page)).toContain('Row 2 removed')
  await page.keyboard.press('Control+z')
  await soon(() => cell(page, 2, 0)).toBe('blank')
  // Whole rows are picked by a drag over their numbers, and dragged elsewhere then.
  const number = (place: number) => page.locator(`.grid-row[aria-rowindex="${place + 1}"] .row-number`)
  const drag = async (from: number, to: number, isAbove: boolean): Promise<void> => {
    const [start, end] = [await number(from).boundingBox(), await number(to).boundingBox()]
    if (start === null || end === null) throw new Error('a row is out of sight')
    await page.mouse.move(start.x + 20, start.y + 12)
    await page.mouse.down()
    await page.mouse.move(end.x + 20, end.y + (isAbove ? 4 : 22), { steps: 6 })
  }
  const hives = (): Promise<string[]> => Promise.all([1, 2, 3, 4, 5, 6].map((place) => cell(page, place, 0)))
  const before = await hives()
  await drag(4, 5, true)
  await page.mouse.up()
  await soon(() => page.locator('.selection-sum').innerText()).toMatch(/^2 × 15/)
  await drag(4, 1, false)
  await soon(() => page.locator('.drop-line').count()).toBe(1)
  await page.mouse.up()
  await soon(() => said(page)).toContain('Rows 4 to 5 moved to 2')
  await soon(hives).toEqual([0, 3, 4, 1, 2, 5].map((at) => before[at]))
  expect(await page.locator('.drop-line').count()).toBe(0)
  // Given up with Escape, nothing is moved; pressed without a drag, one is picked.
  await drag(2, 6, false)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await number(3).click()
  await soon(() => page.locator('.selection-sum').innerText()).toMatch(/^1 × 15/)
  await page.keyboard.press('Control+z')
  await soon(hives).toEqual(before)
  // Sorted rows have no place between others.
  await page.keyboard.press('Alt+ArrowUp')
  await soon(() => page.locator('.sort-mark').count()).toBe(1)
  await rowMenu(page, '#cell-3-0', 'Put a row in below')
  await soon(() => said(page)).toContain('another order than they stand')

  await page.locator('#cell-1-0').click()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: /find/i }).fill('as a form')
  await page.locator('.find-item').filter({ hasText: 'as a form' }).click()
  const form = page.getByRole('dialog')
  await form.getByLabel('mites').fill('6')
  await form.getByLabel('bees_sampled').fill('200')
  await form.getByRole('button', { name: 'Keep' }).click()
  await soon(() => form.getByLabel('infestation').innerText()).toBe('3')
  await form.getByLabel('mites').fill('many')
  await form.getByRole('button', { name: 'Row after' }).click()
  await soon(() => form.getByRole('alert').innerText()).toContain('"many" is none')
  await form.getByLabel('mites').fill('7')
  await form.getByRole('button', { name: 'Row after' }).click()
  await soon(() => form.getByRole('heading').innerText()).toBe('Row 2 of inspections')
  expect(await cell(page, 1, 2)).toBe('7')
})

test('one goes to the largest, to the next blank and to the next row of a finding, also where rows are sorted; a column stays in sight by choice', async () => {
  const { page } = at
  await page.locator('#cell-1-5').click()
  const go = async (to: string): Promise<void> => {
    await page.locator('.head-cell').filter({ hasText: 'stores_kg' }).click({ button: 'right' })
    await page.getByRole('menuitem', { name: 'Go to' }).hover()
    await page.getByRole('menuitem', { name: to, exact: true }).click()
  }
  await go('Next blank')
  await soon(() => here(page)).toBe('cell-13-5')
  await go('Next blank')
  await soon(() => here(page)).not.toBe('cell-13-5')
  await page.getByRole('grid').focus()
  await page.keyboard.press('Alt+ArrowDown')
  await soon(() => page.locator('.sort-mark').innerText()).toBe('↓')
  await go('Largest')
  await soon(() => here(page)).toBe('cell-1-5')
  await go('Next error')
  await soon(() => said(page)).toContain('No row shown has an error in stores_kg.')
  await page.getByRole('tab', { name: 'Findings' }).click()
  await page.getByRole('button', { name: 'next row' }).first().click()
  await soon(() => page.locator('.cell.here').getAttribute('class')).toMatch(/misfit|error/)

  await menu(page, 'mites', 'Keep it in sight')
  await soon(async () => (await headings(page))[0]).toBe('mites')
  await goTo(page, 'daylight')
  expect(await page.locator('.head-edge .head-name').allInnerTexts()).toEqual(['mites'])
  await page.getByRole('tab', { name: 'Column' }).click()
  await goTo(page, 'mites')
  const held = page.getByRole('region', { name: 'What mites holds' })
  await soon(() => held.innerText()).toMatch(/values\s+1,904, 19 different/)
  await held.getByRole('button', { name: '79' }).click()
  await soon(() => page.locator('.rows-shown').innerText()).toContain('79 of 1,986 rows')
  await menu(page, 'mites', 'Let it scroll away')
  await soon(() => page.locator('.head-edge .head-name').count()).toBe(0)
})

test('cells are found wherever they are, what a step changed is told, and the map follows a column both ways', async () => {
  const { page } = at
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: /find/i }).fill('robbing')
  await page.locator('.find-item').filter({ hasText: 'inspections · note' }).first().click()
  await soon(() => page.locator('.cell.here').innerText()).toBe('robbing at entrance')
  await typeInto(page, 'calm')
  await soon(() => said(page)).toContain('note of row 7 set')
  await page.locator('.step').first().hover()
  await soon(() => page.locator('.tooltip').innerText()).toContain('note: robbing at entrance → calm')
  await page.keyboard.press('ArrowUp')
  await page.getByRole('tab', { name: 'Why' }).click()
  await soon(() => page.locator('.slip-body[data-open]').innerText()).toContain('robbing at entrance → calm')

  await page.getByRole('button', { name: 'map', exact: true }).click()
  const map = page.getByRole('region', { name: 'Map of the model' })
  await map.getByRole('searchbox').fill('infest')
  await page.keyboard.press('Enter')
  await soon(() => map.getByRole('status').innerText()).toBe('inspections.infestation: made of 2 columns, 2 columns made of it')
  expect(await map.locator('.thread').count()).toBe(4)
  await map.getByRole('combobox').selectOption('upstream')
  await soon(() => map.locator('.thread').count()).toBe(2)
  await map.getByRole('button', { name: 'Go there' }).click()
  await soon(() => page.locator('.head-cell.picked .head-name').innerText()).toBe('infestation')
})

test('a part that cannot be shown gives way, and comes back', async () => {
  const { page } = at
  await page.route('**/draft-part*', (route) => route.abort())
  await page.getByRole('button', { name: '+ column' }).click()
  const failed = page.getByRole('alert').filter({ hasText: 'The slip cannot be shown.' })
  await soon(() => failed.count()).toBe(1)
  expect(await page.locator('.frame-table').count()).toBeGreaterThan(7)
  await page.unroute('**/draft-part*')
  while ((await page.getByRole('button', { name: 'Try again' }).count()) > 0)
    await page.getByRole('button', { name: 'Try again' }).first().click()
  await soon(() => page.locator('.formula-editor').count()).toBe(1)
  await soon(() => page.locator('[role=grid]').count()).toBe(1)
  at.faults.length = 0
})

test('a changed formula says what else would change; functions are found by what they are for; a stamp is made', async () => {
  const { page } = at
  await goTo(page, 'infestation')
  await page.getByRole('button', { name: 'Edit formula' }).click()
  await soon(() => page.locator('.formula-editor').count()).toBe(1)
  await page.keyboard.type(' + 1')
  await soon(() => page.getByRole('region', { name: 'What would change' }).innerText()).toMatch(
    /infestation 1,836 cells.*\s+act 121 cells row [\d,]+: wait → treat\s+hives\.worst 145 cells/,
  )
  await page.getByText('Functions by what they are for').click()
  await page.getByRole('searchbox').fill('nearest')
  await page.getByRole('button', { name: /^round\(/ }).click()
  await soon(() => page.locator('.formula-editor .cm-content').innerText()).toContain('+ 1round()')
  await page.getByRole('button', { name: 'Give up' }).click()
  await goTo(page, 'note')
  await page.getByRole('tab', { name: 'Column' }).click()
  await page.getByText('Have it write itself').click()
  await page.getByRole('group', { name: 'when one of these' }).getByLabel('mites').check()
  await page.getByLabel('records').selectOption('author')
  await page.getByRole('button', { name: 'Make it a stamp' }).click()
  await soon(() => page.locator('.slip-body[data-open]').innerText()).toContain('who it was when mites is first filled')
})
