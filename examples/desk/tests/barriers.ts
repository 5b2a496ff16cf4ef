import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from 'playwright-core'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

interface Violation {
  readonly id: string
  readonly impact: string
  readonly nodes: readonly { readonly html: string }[]
}

/** What stands in someone's way: serious and critical findings of axe. */
export async function barriers(page: Page, rules?: readonly string[]): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe)
  const options = { resultTypes: ['violations'], ...(rules !== undefined && { runOnly: rules }) }
  const { violations } = await page.evaluate<{ violations: Violation[] }>(`axe.run(document, ${JSON.stringify(options)})`)
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(' | ')}`)
}
