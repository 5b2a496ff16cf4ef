import { join } from 'node:path'
import { pageFolder, pagePolicy } from '@mellow-abacus/desk'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { mellow } from '../../../packages/cli/tests/run-mellow.js'
import { Served } from '../../../packages/server/tests/helpers/serve.js'
import { openChromium } from '../../../tests/chromium.js'
import { said, soon, typeInto } from './helpers.js'

/** One workbook of a server on two pages, and at the terminal meanwhile. */

let served: Served
let browser: Browser
const faults: string[] = []

beforeAll(async () => {
  served = await Served.begin({}, undefined, { page: { folder: pageFolder, policy: pagePolicy } })
  browser = await openChromium()
})
afterAll(async () => {
  await browser?.close()
  await served?.close()
})

/** Opens a page as someone of a browser of their own. */
async function pageOf(hash: string): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  page.setDefaultTimeout(60_000)
  page.on('pageerror', (error) => faults.push(String(error)))
  await page.goto(`${served.url}/${hash}`)
  return page
}

async function at(name: string, role: 'read' | 'edit' | 'define' | 'own'): Promise<Page> {
  const token = served.token(name, role)
  const page = await pageOf(`#book=/books/honey&token=${token}`)
  await page.locator('.frame-table', { hasText: 'harvests' }).click()
  // The table that is shown first has such cells too: what is waited for is the day of a harvest.
  await soon(() => textOf(page, '#cell-1-1')).toMatch(/\d{4}/)
  return page
}

const textOf = (page: Page, cell: string): Promise<string | null> => page.locator(cell).textContent()

test('two at one workbook see each other, what each does, and where their edits met', async () => {
  const ada = await at('Ada Linden', 'define')
  const bea = await at('Bea', 'edit')
  // Nothing of the token stays in the address.
  expect(ada.url()).toBe(`${served.url}/`)
  await ada.locator('#cell-2-2').click()
  await soon(() => bea.getByRole('list', { name: 'Who is here' }).innerText()).toBe('AL')
  await soon(() => bea.locator('#cell-2-2').getAttribute('data-visitor')).toBe('Ada Linden')
  await typeInto(ada, '21')
  await soon(() => textOf(bea, '#cell-2-2')).toBe('21.0')
  expect(await bea.locator('#cell-2-2').getAttribute('data-by')).toBe('Ada Linden')

  // Ada's connection is lost: what she does is kept, and sent when it is back.
  await ada.context().setOffline(true)
  await soon(() => ada.locator('.saving').innerText()).toBe('no connection')
  await ada.locator('#cell-1-2').click()
  await typeInto(ada, '15')
  await soon(() => ada.locator('.saving').innerText()).toBe('not saved: no connection, 1 edit kept here')
  expect(await said(ada)).toContain('sent when the connection is back')
  expect(await ada.locator('#cell-1-2').getAttribute('class')).toContain('waiting')
  expect(await textOf(ada, '#cell-1-2')).toBe('15.0')
  await bea.locator('#cell-1-2').click()
  await typeInto(bea, '8')
  await soon(() => textOf(bea, '#cell-1-2')).toBe('8.0')
  await ada.context().setOffline(false)
  const ofAda = ada.getByRole('region', { name: 'Edits that met' })
  await soon(() => ofAda.innerText()).toMatch(
    /harvests\.honey_kg: Bea wrote 8 at \d\d:\d\d, you wrote 15, neither having seen the other\. Yours stands\./,
  )
  await soon(() => ada.locator('.saving').innerText()).toBe('saved')
  const ofBea = bea.getByRole('region', { name: 'Edits that met' })
  await soon(() => ofBea.innerText()).toContain('Ada Linden wrote 15, you wrote 8, neither having seen the other. Theirs stands.')
  await ofBea.getByRole('button', { name: 'Write 8 again' }).click()
  await soon(() => textOf(ada, '#cell-1-2')).toBe('8.0')
  await ofAda.getByRole('button', { name: 'Leave it' }).click()
  await soon(() => ofAda.count()).toBe(0)

  // The terminal edits the file that the server has open.
  const run = await mellow(['set', join(served.folder, 'honey'), 'harvests', '3', 'honey_kg=33', '--author', 'Cy'])
  expect([run.code, run.err]).toEqual([0, ''])
  await soon(() => textOf(bea, '#cell-3-2')).toBe('33.0')
  expect(await bea.locator('#cell-3-2').getAttribute('data-by')).toBe('Cy')
  await ada.context().close()
  await soon(() => bea.locator('.steps').innerText()).toContain('rows')
  await bea.context().close()
  expect(faults).toEqual([])
})

test('what was done without a connection and cannot be done any more is said, all of it', async () => {
  const ada = await at('Ada', 'define')
  const second = await textOf(ada, '#cell-2-2')
  await ada.context().setOffline(true)
  await soon(() => ada.locator('.saving').innerText()).toBe('no connection')
  for (const place of [2, 3]) {
    await ada.locator(`#cell-${place}-2`).click()
    await typeInto(ada, String(place))
  }
  const removed = await mellow(['rows', join(served.folder, 'honey'), 'harvests', 'remove', '2', '3'])
  expect([removed.code, removed.err]).toEqual([0, ''])
  await ada.context().setOffline(false)
  const late = ada.getByRole('region', { name: 'Edits that met' }).locator('.card')
  await soon(() => late.count()).toBe(2)
  expect(await late.first().innerText()).toMatch(/Not done: honey_kg of row 2 set\. .* no row/)
  expect(await late.last().innerText()).toContain('Not done: honey_kg of row 3 set.')
  await late.first().getByRole('button', { name: 'Understood' }).click()
  await soon(() => late.count()).toBe(1)
  const back = await mellow(['undo', join(served.folder, 'honey')])
  expect([back.code, back.err]).toEqual([0, ''])
  await soon(() => textOf(ada, '#cell-2-2')).toBe(second)
  await ada.context().close()
  expect(faults).toEqual([])
})

test('a formula that was changed under a draft is shown beside it', async () => {
  const ada = await at('Ada', 'define')
  await ada.locator('#cell-0-3').click()
  await ada.getByRole('button', { name: 'Edit formula' }).click()
  await ada.locator('.cm-content').waitFor()
  const formula = await ada.locator('.cm-content').innerText()
  await mellow(['define', join(served.folder, 'honey'), 'harvests', 'share_of_hive = 2 * honey_kg'])
  const changed = ada.locator('.slip .card', { hasText: 'was changed meanwhile' })
  await soon(() => changed.innerText()).toContain('2 * honey_kg')
  expect(await changed.innerText()).toContain(formula.trim())
  await changed.getByRole('button', { name: 'Begin from it' }).click()
  await soon(() => ada.locator('.cm-content').innerText()).toBe('2 * honey_kg')
  await ada.context().close()
  expect(faults).toEqual([])
})

test('what a reader may not do is not on the page; the page asks for a token', async () => {
  const page = await pageOf('')
  await page.getByLabel('Your token').fill('nonsense')
  await page.getByRole('button', { name: 'Come in' }).click()
  await soon(() => page.getByRole('alert').innerText()).toContain('This token is none, or good no more')
  await page.getByLabel('Your token').fill(served.token('Ria', 'read'))
  await page.getByRole('button', { name: 'Come in' }).click()
  await page.getByRole('button', { name: 'honey read' }).click()
  await page.locator('[role=gridcell]').first().waitFor()
  for (const name of ['+ column', '+ row', '+ table', 'Edit formula', 'New calculated column', 'Take back'])
    expect([name, await page.getByRole('button', { name, exact: true }).count()]).toEqual([name, 0])
  await page.locator('#cell-1-1').click()
  await page.keyboard.type('x')
  await soon(() => said(page)).toContain('reader')
  await page.context().close()
  expect(faults).toEqual([])
})
