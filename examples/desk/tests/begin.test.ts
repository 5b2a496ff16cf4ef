import { readFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { expect, test } from 'vitest'
import { cell, headings, onThePage, said, soon, typeInto } from './helpers'

const at = onThePage('')

const CSV = 'day,site,jars,price\n2026-07-01,LM,12,9.5\n2026-07-02,BF,7,9.5\n2026-07-03,OQ,,9\n2026-07-04,LM,4?,9\n'

test('from the empty page to a saved calculated column on a file of one’s own, in a dozen actions', async () => {
  const { page } = at
  expect(await page.locator('.begin').innerText()).toContain('Open a file')
  const began = Date.now()
  await page.setInputFiles('input[type=file]', { name: 'jars.csv', mimeType: 'text/csv', buffer: Buffer.from(CSV) })
  await soon(() => page.getByRole('dialog').innerText()).toContain('4 rows, 4 columns')
  await page.getByLabel('type of jars').selectOption('number')
  await soon(() => page.getByRole('dialog').innerText()).toContain('1 misfit')
  await page.getByRole('button', { name: 'Take 4 rows' }).click()
  await soon(() => headings(page)).toEqual(['day', 'site', 'jars', 'price'])
  await page.getByRole('button', { name: '+ column' }).click()
  await page.getByLabel('new column of jars').fill('worth = jars * price')
  await soon(() => page.locator('.samples').innerText()).toContain('114')
  await page.getByRole('button', { name: 'Add column' }).click()
  await soon(() => headings(page)).toEqual(['day', 'worth', 'site', 'jars', 'price'])
  await soon(() => cell(page, 1, 1)).toBe('114.0')
  const waiting = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save' }).click()
  expect((await waiting).suggestedFilename()).toBe('jars.bundle')
  expect(Date.now() - began).toBeLessThan(60_000)
})

test('the first load is small: what is not needed at once comes when it is', async () => {
  const { page } = at
  await page.locator('.begin').waitFor()
  const names = await page.evaluate(() => performance.getEntriesByType('resource').map(({ name }) => name))
  const loaded = names.filter((name) => /\.(?:js|css)$/.test(name)).map((name) => new URL(name).pathname)
  expect(loaded.length).toBeGreaterThan(1)
  const sizes = loaded.map(
    (path) => gzipSync(readFileSync(new URL(`../../../packages/desk/page${path}`, import.meta.url))).length,
  )
  expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThan(200_000)
})

test('a new table is made, rows are typed, and a row is added', async () => {
  const { page } = at
  await page.getByRole('button', { name: /New table/ }).click()
  await page.getByRole('dialog').getByLabel('name').fill('jars')
  await page.getByRole('dialog').getByLabel('columns').fill('day, jars')
  await page.getByRole('dialog').getByLabel('rows').fill('2')
  await page.getByRole('button', { name: 'Make the table' }).click()
  await soon(() => headings(page)).toEqual(['day', 'jars'])
  await page.locator('#cell-1-1').click()
  await typeInto(page, '12')
  await soon(() => cell(page, 1, 1)).toBe('12')
  // A date typed into a column that has no type yet is one.
  await page.locator('#cell-1-0').click()
  await typeInto(page, '2026-07-01')
  await soon(() => page.getByRole('columnheader', { name: 'day, source column, date' }).count()).toBe(1)
  await page.keyboard.press('Control+z')
  await soon(() => page.getByRole('columnheader', { name: 'day, source column, no type yet' }).count()).toBe(1)
  await page.getByRole('button', { name: '+ row' }).click()
  await soon(() => said(page)).toContain('A row added at the end')
  await soon(() => page.locator('.grid-row').count()).toBe(3)
})

test('what cannot be opened says why, and the page stays', async () => {
  const { page } = at
  await page.setInputFiles('input[type=file]', { name: 'no.bundle', mimeType: 'application/zip', buffer: Buffer.from('nothing') })
  await soon(() => page.getByRole('alert').innerText()).not.toBe('')
  expect(await page.locator('.begin').isVisible()).toBe(true)
  await page.setInputFiles('input[type=file]', { name: 'twice.json', mimeType: 'application/json', buffer: Buffer.from('{') })
  await soon(() => page.getByRole('dialog').locator('.card.error').innerText()).not.toBe('')
  expect(await page.getByRole('dialog').locator('.go').isDisabled()).toBe(true)
})
