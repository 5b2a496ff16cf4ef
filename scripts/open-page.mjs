// Serves the built page with its security policy and opens it in headless Chromium, for pictures and for trying things out.
import { fileURLToPath } from 'node:url'
import { chromium } from 'playwright-core'
import { preview } from 'vite'

/** Flags without which Chromium looks for the network at every start. */
export const QUIET_CHROMIUM = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

/** Opens the page; faults collects what the console and the page complain about. */
export async function openPage({ width = 1280, height = 800, hash = '#demo' } = {}) {
  const root = fileURLToPath(new URL('../examples/desk', import.meta.url))
  const server = await preview({
    root,
    configFile: `${root}/vite.config.ts`,
    preview: { port: 0, host: '127.0.0.1' },
    logLevel: 'error',
  })
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    headless: true,
    args: QUIET_CHROMIUM,
  })
  const page = await browser.newPage({ viewport: { width, height } })
  const faults = []
  page.on('console', (message) => message.type() === 'error' && faults.push(message.text()))
  page.on('pageerror', (error) => faults.push(String(error)))
  const address = server.resolvedUrls.local[0]
  await page.goto(address + hash)
  await page.waitForSelector('.grid-row [role=gridcell]')
  const close = async () => {
    await browser.close()
    await new Promise((resolve) => server.httpServer.close(resolve))
  }
  return { page, faults, close }
}
