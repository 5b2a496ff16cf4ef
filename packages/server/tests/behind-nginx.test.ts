import { execFile, execFileSync, spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { describe, expect, test } from 'vitest'
import { Served } from './helpers/serve.js'

/** The server behind nginx with TLS, set up as the page on sharing says, where nginx is installed. */

const NGINX = ['/usr/sbin/nginx', '/usr/bin/nginx', '/usr/local/sbin/nginx'].find((path) => existsSync(path)) ?? ''
const OPENSSL = ['/usr/bin/openssl', '/usr/local/bin/openssl'].find((path) => existsSync(path)) ?? ''
const client = fileURLToPath(new URL('helpers/through-tls.mjs', import.meta.url))

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  const { port } = server.address() as { port: number }
  await new Promise((resolve) => server.close(resolve))
  return port
}

/** The server block of the page, with paths and ports of this test. */
function configuration(folder: string, port: number, behind: string): string {
  const page = readFileSync(new URL('../../../docs/sharing.md', import.meta.url), 'utf8')
  const block = /```nginx\n([\s\S]*?)```/.exec(page)?.[1] ?? ''
  const own = block
    .replace('listen 443 ssl', `listen 127.0.0.1:${port} ssl`)
    .replace('server_name honey.example', 'server_name localhost')
    .replace('/etc/ssl/honey.pem', join(folder, 'honey.pem'))
    .replace('/etc/ssl/honey.key', join(folder, 'honey.key'))
    .replace('http://127.0.0.1:4747', behind)
  expect(own.match(new RegExp(`${folder}|${behind}|${port}`, 'g'))?.length).toBe(4)
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((kind) => `${kind}_temp_path ${folder}/${kind};`)
  const user = process.getuid?.() === 0 ? 'user root;\n' : ''
  return `${user}daemon off;\npid ${folder}/pid;\nerror_log stderr warn;\nevents {}\nhttp {\naccess_log off;\n${temporary.join('\n')}\n${own}}\n`
}

describe.runIf(NGINX !== '' && OPENSSL !== '')('behind nginx with TLS', () => {
  test('feeds, uploads and conditional requests are as without', async () => {
    const served = await Served.begin({ proxied: true }, [
      {
        op: 'add-table',
        table: 'hives',
        columns: [
          { name: 'code', type: 'text' },
          { name: 'honey', type: 'number' },
        ],
      },
      {
        op: 'insert-rows',
        table: 'hives',
        rows: [
          { code: 'LM-01', honey: 12 },
          { code: 'LM-02', honey: 9 },
        ],
      },
    ])
    const token = served.token('Olga', 'own', { books: ['*'] })
    const folder = join(served.folder, 'nginx')
    mkdirSync(folder)
    const paths = ['-keyout', join(folder, 'honey.key'), '-out', join(folder, 'honey.pem')]
    const subject = ['-subj', '/CN=localhost', '-addext', 'subjectAltName=DNS:localhost']
    const key = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes']
    execFileSync(OPENSSL, ['req', '-x509', ...key, '-days', '2', ...subject, ...paths], { stdio: 'ignore' })
    const port = await freePort()
    writeFileSync(join(folder, 'nginx.conf'), configuration(folder, port, served.url))
    const nginx = spawn(NGINX, ['-p', folder, '-c', join(folder, 'nginx.conf')], { stdio: ['ignore', 'ignore', 'pipe'] })
    let said = ''
    nginx.stderr.on('data', (text) => {
      said += text
    })
    const ended = new Promise((resolve) => nginx.once('exit', resolve))
    try {
      const env = { ...process.env, NODE_EXTRA_CA_CERTS: join(folder, 'honey.pem') }
      await expect.poll(() => existsSync(join(folder, 'pid')), { timeout: 10_000 }).toBe(true)
      const args = [client, `https://localhost:${port}/books/honey`, token]
      const { stdout } = await promisify(execFile)(process.execPath, args, { env, maxBuffer: 1e7 })
      const { csvBytes, fileBytes, ...told } = JSON.parse(stdout) as Record<string, number>
      const revisions = Array.from({ length: 20 }, (_, step) => step + 1)
      expect([told, said]).toEqual([
        { feed: { revisions, top: 120 }, unchanged: 304, written: 200, overtaken: 412, put: 200, rows: 400_002, copied: 400_002 },
        '',
      ])
      // Larger than what nginx would keep in memory by itself. A feed that it held back would never come to its end.
      expect(csvBytes).toBeGreaterThan(10_000_000)
      expect(fileBytes).toBeGreaterThan(1_000_000)
    } finally {
      nginx.kill('SIGTERM')
      await ended
      await served.close()
    }
  })
})
