import { type Browser, chromium } from 'playwright-core'

/** Opens Chromium so that it asks the network for nothing of its own. */
export function openChromium(): Promise<Browser> {
  const args = [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ]
  return chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', headless: true, args })
}
