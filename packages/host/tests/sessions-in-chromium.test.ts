import { type Port, type PortMessage, sessionOverPort } from '@mellow-abacus/session'
import type { Browser, Page } from 'playwright-core'
import { createServer, type ViteDevServer } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openChromium } from '../../../tests/chromium.js'
import { type Home, OPERATIONS, SURROUNDINGS } from './helpers/homes.js'
import { sessionSuite } from './helpers/session-suite.js'

/** Sessions at a workbook in a Web Worker of Chromium, as it is built for browsers. */

/** What the page has for whoever drives it. */
declare const window: {
  readonly isReady?: true
  begin(first: object): Promise<void>
  open(number: number, reader: object): void
  send(number: number, text: string): void
  shut(number: number): void
  end(): void
  alone(reader: object): Promise<object[]>
}

let server: ViteDevServer
let browser: Browser
let page: Page
/** Those who listen to a channel, by its number. */
const listeners = new Map<number, (message: PortMessage) => void>()

beforeAll(async () => {
  const root = new URL('page', import.meta.url).pathname
  server = await createServer({
    root,
    configFile: false,
    server: { port: 0, host: '127.0.0.1', fs: { strict: false } },
    logLevel: 'error',
  })
  await server.listen()
  browser = await openChromium()
  page = await browser.newPage()
  await page.exposeFunction('passOn', (number: number, text: string) => listeners.get(number)?.(messageOf(text)))
  await page.goto(server.resolvedUrls?.local[0] ?? '')
  await page.waitForFunction(() => window.isReady)
})
afterAll(async () => {
  await browser?.close()
  await server?.close()
})

/** Messages as text, in which bytes are lists; the page does the same. */
const textOf = (message: PortMessage): string =>
  JSON.stringify(message, (_, value) => (value instanceof Uint8Array ? { bytes$: [...value] } : value))
const messageOf = (text: string): PortMessage =>
  JSON.parse(text, (_, value) => (Array.isArray(value?.bytes$) ? Uint8Array.from(value.bytes$) : value))

const begin = (): Promise<void> =>
  page.evaluate((first) => window.begin(first), { operations: OPERATIONS, surroundings: SURROUNDINGS } as object)

/** A workbook in a worker of the page, of which the channels end here. */
async function home(): Promise<Home> {
  await begin()
  return {
    open: (reader) => {
      const number = listeners.size + 1
      const port: Port = {
        send: (message) => void page.evaluate(([at, said]) => window.send(at, said), [number, textOf(message)] as const),
        listen: (listener) => void listeners.set(number, listener),
        close: () => void page.evaluate((at) => window.shut(at), number),
      }
      const session = sessionOverPort(port)
      void page.evaluate(([at, who]) => window.open(at, who), [number, reader] as [number, object])
      return session
    },
    close: () => page.evaluate(() => window.end()),
  }
}

sessionSuite('in a Web Worker of Chromium', home)

test('a page opens a session at its worker, and what it looks at follows', async () => {
  await begin()
  expect(await page.evaluate((reader) => window.alone(reader), { role: 'edit' })).toEqual([{ code: 'H1', honey: 1_019.5 }])
})
