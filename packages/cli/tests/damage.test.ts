import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { folderWith, mellowHere } from './run-mellow.js'

/**
 * Workbook files with altered bytes: each is shown, or refused with a message, and never more than that; what was written is
 * shown as it was. A sample; for a long run: RUNS=300 npx vitest run --project cli damage
 */
const numRuns = Number(process.env.RUNS ?? 12)

test('a damaged workbook is refused or whole, whatever bytes are altered', async () => {
  const rows = Array.from({ length: 400 }, (_, at) => `h${at % 40},${at / 8},2026-03-${String((at % 28) + 1).padStart(2, '0')}`)
  const folder = folderWith({ 'takes.csv': `hive,kg,day\n${rows.join('\n')}\n` })
  const run = (...args: string[]): ReturnType<typeof mellowHere> => mellowHere(args, { folder })
  for (const args of [
    ['import', 'honey', 'takes.csv'],
    ['define', 'honey', 'takes', 'jars = kg * 2', 'total = sum(kg by hive)'],
    ['set', 'honey', 'takes', '3', 'kg=9'],
  ])
    expect(await run(...args)).toMatchObject({ code: 0 })
  const whole = readFileSync(join(folder, 'honey.mellow'))
  const shown = (await run('show', 'honey', 'takes')).out
  const edits = fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 40, size: 'max' })
  let runs = 0
  await fc.assert(
    fc.asyncProperty(edits, async (altered) => {
      const bytes = Buffer.from(whole)
      for (const [at, byte] of altered) bytes[at] = byte
      const name = `damaged${runs++}`
      writeFileSync(join(folder, `${name}.mellow`), bytes)
      const [look, history] = [await run('show', name, 'takes'), await run('history', name)]
      for (const { code, err } of [look, history]) {
        expect([0, 2]).toContain(code)
        if (code === 2)
          expect(err).toMatch(/^mellow: damaged\d+\.mellow (is damaged|is no workbook|has format)|^mellow: cannot use /)
      }
      if (look.code === 0) expect(look.out).toBe(shown)
    }),
    { numRuns, endOnFailure: true },
  )
}, 3_600_000)
