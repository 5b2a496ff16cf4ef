// Measures the page in headless Chromium with the browser's own tracing: CPU time of threads, not wall, where it says so. Prints
// JSON. The large tables are workbooks that `startDesk` serves; the demo is held by the page itself.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from 'playwright-core'
import { pageFolder, pagePolicy } from '../../packages/desk/dist/index.js'
import { startDesk } from '../../packages/server/dist/index.js'
import { QUIET_CHROMIUM } from '../open-page.mjs'
import { makeLarge } from './large-books.mjs'

const page = { folder: pageFolder, policy: pagePolicy }
const folder = mkdtempSync(join(tmpdir(), 'desk-'))
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  headless: true,
  args: QUIET_CHROMIUM,
})
const median = (numbers) => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)]
const rounded = (number) => Math.round(number * 10) / 10

/** Marks the moment when the first rows are drawn. */
const MARK_ROWS = `new MutationObserver((_, watch) => {
  if (document.querySelector('.grid-row [role=gridcell]') === null) return
  watch.disconnect()
  requestAnimationFrame(() => performance.mark('rows'))
}).observe(document, { childList: true, subtree: true })`

/** Traces what is done on a page; gives the events. */
async function traced(tab, work) {
  const categories = ['toplevel', 'blink.user_timing']
  await browser.startTracing(tab, { categories })
  await work()
  const { traceEvents } = JSON.parse((await browser.stopTracing()).toString())
  return traceEvents
}

/** Milliseconds of CPU that the threads of the page spent between two marks: the one that draws, and all of them. */
function cpuBetween(events, from, to) {
  const mark = (name, side) => events.filter((one) => one.name === name && one.cat?.includes('user_timing')).at(side)
  const start = from === null ? null : mark(from, -1)
  const end = mark(to, -1)
  if (end === undefined || start === undefined) throw new Error(`the trace has no mark ${from} or ${to}`)
  const tasks = events.filter(
    ({ name, pid, ts, tdur }) =>
      name === 'ThreadControllerImpl::RunTask' &&
      tdur !== undefined &&
      pid === end.pid &&
      ts <= end.ts &&
      (start === null || ts >= start.ts),
  )
  const sum = (own) => own.reduce((total, { tdur }) => total + tdur, 0) / 1_000
  return { drawing: sum(tasks.filter(({ tid }) => tid === end.tid)), all: sum(tasks) }
}

/** Opens a page anew, and gives the CPU until its first rows. */
async function firstRows(address) {
  const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await tab.addInitScript(MARK_ROWS)
  const events = await traced(tab, async () => {
    await tab.goto(address)
    await tab.waitForFunction(() => performance.getEntriesByName('rows').length > 0)
    await tab.waitForTimeout(300)
  })
  const wall = await tab.evaluate(() => performance.getEntriesByName('rows')[0].startTime)
  await tab.close()
  return { ...cpuBetween(events, null, 'rows'), wall }
}

/** CPU of the thread that draws for a key, in milliseconds: until it is drawn, and with all that follows; medians of several. */
async function cpuOf(tab, times, act) {
  const spent = []
  for (let time = 0; time < times; time++) {
    const events = await traced(tab, async () => {
      await tab.evaluate(() => {
        performance.mark('from')
        window.drawn = new Promise((resolve) => {
          const mark = () => {
            performance.mark('drawn')
            resolve()
          }
          // Drawn, when the second frame after the key begins.
          const drawn = () => requestAnimationFrame(() => requestAnimationFrame(mark))
          window.addEventListener('keydown', drawn, { once: true, capture: true })
        })
      })
      await act(time)
      await tab.evaluate(() => window.drawn)
      await tab.waitForTimeout(350)
      await tab.evaluate(() => performance.mark('to'))
    })
    spent.push([cpuBetween(events, 'from', 'drawn').drawing, cpuBetween(events, 'from', 'to').drawing])
  }
  return { drawn: rounded(median(spent.map(([one]) => one))), settled: rounded(median(spent.map(([, other]) => other))) }
}

/** Scrolls by the wheel; gives the median frame in milliseconds, and for how many frames in a row at most a row in sight was missing. */
async function scrolled(tab, pixels, turns) {
  await tab.mouse.move(600, 400)
  await tab.evaluate(() => {
    const seen = { frames: [], missing: 0, longest: 0, isOn: true }
    window.scrolled = seen
    let last = performance.now()
    const look = (now) => {
      seen.frames.push(now - last)
      last = now
      const [head, beam] = ['.rod-head', '.beam'].map((name) => document.querySelector(name).getBoundingClientRect())
      const boxes = [...document.querySelectorAll('.grid-row')].map((row) => row.getBoundingClientRect())
      const inSight = boxes.filter(({ top, bottom }) => bottom > head.bottom && top < beam.top).length
      const isWhole = inSight >= Math.floor((beam.top - head.bottom) / 27)
      seen.missing = isWhole ? 0 : seen.missing + 1
      seen.longest = Math.max(seen.longest, seen.missing)
      if (seen.isOn) requestAnimationFrame(look)
    }
    requestAnimationFrame(look)
  })
  for (let turn = 0; turn < turns; turn++) {
    await tab.mouse.wheel(0, pixels)
    await tab.waitForTimeout(16)
  }
  const { frames, longest } = await tab.evaluate(() => {
    window.scrolled.isOn = false
    return window.scrolled
  })
  return { frame: rounded(median(frames)), longest }
}

/** Milliseconds from the key that ends an edit until the cell that follows is drawn: the median of several. */
async function editFelt(tab, follower) {
  const felt = []
  for (let time = 0; time < 9; time++) {
    await tab.locator('#cell-3-3').click()
    await tab.keyboard.type(String(100 + time * 7))
    await tab.evaluate((id) => {
      window.felt = new Promise((resolve) => {
        let from = 0
        window.addEventListener(
          'keydown',
          ({ timeStamp }) => {
            from = timeStamp
          },
          { once: true, capture: true },
        )
        const watch = new MutationObserver(() => {
          watch.disconnect()
          requestAnimationFrame((now) => resolve(now - from))
        })
        const row = document.getElementById(id).parentElement
        watch.observe(row, { childList: true, subtree: true, characterData: true, attributes: true, attributeFilter: ['title'] })
        window.isFollowed = () => document.getElementById(id).textContent
      })
    }, follower)
    await tab.keyboard.press('Enter')
    felt.push(await tab.evaluate(() => window.felt))
    await tab.waitForTimeout(300)
  }
  return rounded(median(felt))
}

const said = {}
const demo = await startDesk({ file: null }, { page })
const address = `${demo.url}/#demo`
await firstRows(address)
const first = []
for (let time = 0; time < 5; time++) first.push(await firstRows(address))
said.first = {
  drawing: rounded(median(first.map((one) => one.drawing))),
  all: rounded(median(first.map((one) => one.all))),
  wall: rounded(median(first.map((one) => one.wall))),
}
await demo.close()

for (const [name, rows, columns] of [
  ['million', 1_000_000, 40],
  ['wide', 100_000, 200],
]) {
  const desk = await startDesk({ file: makeLarge(join(folder, `${name}.mellow`), rows, columns) }, { page })
  const tab = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  tab.setDefaultTimeout(30_000)
  await tab.goto(desk.invite())
  await tab.waitForSelector('.grid-row [role=gridcell]')
  await tab.waitForTimeout(3_000)
  const slow = await scrolled(tab, 54, 150)
  const fast = await scrolled(tab, 300, 150)
  await tab.locator('.grid-scroll').focus()
  await tab.keyboard.press('Control+Home')
  await tab.locator('#cell-3-3').click()
  await tab.waitForTimeout(800)
  const edit = await editFelt(tab, 'cell-3-4')
  const pick = await cpuOf(tab, 9, (time) => tab.keyboard.press(time % 8 < 4 ? 'ArrowRight' : 'ArrowLeft'))
  await tab.locator('.quiet-button', { hasText: '+ column' }).click()
  await tab.locator('.cm-content').waitFor()
  await tab.locator('.cm-content').click()
  await tab.keyboard.type('heavy = scale_1 ')
  await tab.waitForTimeout(1_500)
  const text = '+2*scale_2'
  const typing = await cpuOf(tab, text.length, (time) => tab.keyboard.type(text.charAt(time)))
  said[name] = { slow, fast, edit, pick, typing }
  await tab.close()
  await desk.close()
}
await browser.close()
rmSync(folder, { recursive: true, force: true })
console.log(JSON.stringify(said))
