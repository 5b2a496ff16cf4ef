import { execFile } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { expect, test } from 'vitest'

const main = fileURLToPath(new URL('../src/main.mjs', import.meta.url))

test('readings are posted, and the calculated rows follow', async () => {
  const said = await new Promise<string>((resolve, reject) => {
    const env = { ...process.env, READINGS: '7', PAUSE_MS: '60' }
    execFile(process.execPath, [main], { env }, (error, out, err) =>
      error === null ? resolve(out + err) : reject(new Error(out + err)),
    )
  })
  expect(said).toContain('/books/readings as scales, who may enter\n')
  expect(said).toContain('LM-01 2026-06-01T06:00:00 40 kg: honey 16 kg, gain – kg\n')
  expect(said).toContain('LM-01 2026-06-01T06:50:00 42 kg: honey 18 kg, gain 2 kg\n')
  expect(said).toMatch(/heaviest: LM-02 22 kg \(1\) {3}LM-01 16 kg \(1\)/)
}, 60_000)
