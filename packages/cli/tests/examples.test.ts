import { execFile } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect, test } from 'vitest'

/** The examples for developers run as they stand, and say what they are about. */

const root = fileURLToPath(new URL('../../..', import.meta.url))

test('a workbook in a program', async () => {
  const { stdout, stderr } = await promisify(execFile)(process.execPath, ['examples/library/understand.mjs'], { cwd: root })
  expect(stderr).toBe('')
  for (const line of [
    'although "lm-02" looks like "LM-02". Fix: Write 1 key as hives has them.',
    'harvests.share: 2 cells, as row 1: 0.625 → 1',
    'harvests.share, row 1: 0.625 = share(honey_kg by hive)',
    'hives.total_kg  (linked rows in sum(harvests.honey_kg)) — one result a linked row, kept up to date row by row',
    'stale: harvests.per_frame, 1 row',
    'Resuming per_frame would change 1 cell, 1 of them typed by hand: row 1.',
  ])
    expect(stdout).toContain(line)
})
