import { spawn } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { delimiter, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from 'vitest'
import { bin, mellow } from './run-mellow.js'

/** Every command of the page on sharing, one after the other, as someone would type them who reads it. */

const page = readFileSync(fileURLToPath(new URL('../../../docs/sharing.md', import.meta.url)), 'utf8')

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  const { port } = server.address() as AddressInfo
  await new Promise((resolve) => server.close(resolve))
  return port
}

/** Runs a script in a shell of its own, with the tool in its path. */
function shell(script: string, folder: string): Promise<{ code: number | null; out: string }> {
  const tools = join(folder, 'bin')
  mkdirSync(tools)
  writeFileSync(join(tools, 'mellow'), `#!/bin/sh\nexec "${process.execPath}" "${bin}" "$@"\n`)
  chmodSync(join(tools, 'mellow'), 0o755)
  return new Promise((resolve, reject) => {
    const child = spawn('bash', ['-c', script], {
      cwd: folder,
      env: { ...process.env, NO_COLOR: '1', PATH: `${tools}${delimiter}${process.env.PATH}` },
    })
    let out = ''
    for (const stream of [child.stdout, child.stderr])
      stream.setEncoding('utf8').on('data', (text: string) => {
        out += text
      })
    child.on('error', reject).on('close', (code) => resolve({ code, out }))
  })
}

test('every command does what the page says', async () => {
  const port = await freePort()
  const commands = Array.from(page.matchAll(/```sh\n([\s\S]*?)```/g), ([, block]) => block as string).join('')
  expect(commands.match(/^mellow (serve|token|backup)/gm)?.length).toBeGreaterThan(5)
  const folder = mkdtempSync(join(tmpdir(), 'sharing-'))
  const isUp = `for _ in $(seq 100); do curl -s -o /dev/null http://127.0.0.1:${port}/health/live && break; sleep 0.1; done`
  const script = commands.replaceAll('4747', String(port)).replace(/^(mellow serve .*)$/m, `$1\nserver=$!\n${isUp}`)
  const { code, out } = await shell(`set -e\n${script}\nkill $server\nwait $server\n`, folder)
  expect([code, out]).toEqual([0, out])
  for (const said of [
    'bottling line: enter at honey; in buyers',
    '"code":"unknown-name"',
    'LM-01,Mill Wood,30,12.5',
    '"honey_kg":7}',
    'LM-01,Mill Wood,30,19.5,146',
    'undo: harvests.honey_kg',
    'Olga  undo: harvests.honey_kg',
    'retry: 1000',
    '1 token withdrawn',
    '1 workbook copied',
  ])
    expect(out).toContain(said)
  rmSync(folder, { recursive: true, force: true })
}, 120_000)

test('a server that is not told which workbooks asks for them', async () => {
  const { code, err } = await mellow(['serve'])
  expect([code, err]).toEqual([2, expect.stringContaining('which workbooks? Name a folder')])
})
