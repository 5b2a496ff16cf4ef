import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import pg from 'pg'

const mellow = fileURLToPath(new URL('../../../cli/bin/mellow.js', import.meta.url))
export const NGINX = ['/usr/sbin/nginx', '/usr/bin/nginx', '/usr/local/sbin/nginx'].find((path) => existsSync(path)) ?? ''

/** A port that is free at the moment. */
async function freePort() {
  const server = createServer().listen(0, '127.0.0.1')
  await once(server, 'listening')
  const { port } = server.address()
  await new Promise((resolve) => server.close(resolve))
  return port
}

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

/** Servers over one store as processes, with nginx in front where it is installed. */
export class Fleet {
  #processes = []
  #nginx = null
  #folder = mkdtempSync(join(tmpdir(), 'fleet-'))
  #options

  /** @param options - `store`: the address; `servers`: how many; `open`: workbooks that each has open at once */
  static async begin(options) {
    const fleet = new Fleet()
    fleet.#options = options
    fleet.ports = await Promise.all(Array.from({ length: options.servers }, freePort))
    const token = await run(['token', fleet.#folderOf(0), 'add', '--name', 'Olga', '--book', '*', '--role', 'own', '--operator'])
    fleet.token = token.split('\n')[0].trim()
    const tokens = join(fleet.#folderOf(0), 'tokens.json')
    for (let index = 1; index < options.servers; index++) await copy(tokens, join(fleet.#folderOf(index), 'tokens.json'))
    for (let index = 0; index < options.servers; index++) await fleet.start(index)
    fleet.url = NGINX === '' ? fleet.urlOf(0) : await fleet.#startNginx()
    fleet.database = new pg.Pool({ connectionString: options.store, max: 2 })
    fleet.database.on('error', () => undefined)
    return fleet
  }

  #folderOf(index) {
    const folder = join(this.#folder, `server-${index}`)
    mkdirSync(folder, { recursive: true })
    return folder
  }

  urlOf(index) {
    return `http://127.0.0.1:${this.ports[index]}`
  }

  /** Starts a server, and waits until it can be asked. */
  async start(index) {
    const { store, open = 16 } = this.#options
    const at = ['--port', String(this.ports[index]), '--store', store, '--open', String(open), '--idle', '1h', '--log', 'error']
    const child = spawn(process.execPath, [mellow, 'serve', this.#folderOf(index), '--proxied', ...at], {
      env: { ...process.env, MELLOW_RATE: '0', MELLOW_THREADS: '4' },
      stdio: ['ignore', 'pipe', this.#options.isLoud ? 'inherit' : 'ignore'],
    })
    this.#processes[index] = child
    for await (const line of createInterface({ input: child.stdout })) if (line.startsWith('http')) return
    throw new Error(`server ${index} did not start`)
  }

  /** Sends a signal to a server. */
  signal(index, name) {
    this.#processes[index].kill(name)
  }

  /** Ends a server without a word. */
  async kill(index) {
    const child = this.#processes[index]
    if (child.exitCode !== null || child.signalCode !== null) return
    child.kill('SIGKILL')
    await once(child, 'exit')
  }

  /** Ends a server in an orderly way. */
  async stop(index) {
    const child = this.#processes[index]
    child.kill('SIGTERM')
    await once(child, 'exit')
  }

  async #startNginx() {
    const port = await freePort()
    const folder = join(this.#folder, 'nginx')
    mkdirSync(folder)
    const servers = this.ports.map((one) => `server 127.0.0.1:${one} max_fails=1 fail_timeout=1s;`).join(' ')
    const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((kind) => `${kind}_temp_path ${folder}/${kind};`)
    writeFileSync(
      join(folder, 'nginx.conf'),
      `${process.getuid?.() === 0 ? 'user root;' : ''} daemon off; worker_processes 1; pid ${folder}/pid; error_log ${folder}/log;
      events { worker_connections 4096; }
      http { access_log off; ${temporary.join(' ')}
        upstream mellow { ${servers} keepalive 32; }
        server { listen 127.0.0.1:${port}; client_max_body_size 200m;
          location / { proxy_pass http://mellow; proxy_http_version 1.1; proxy_set_header Host $host; proxy_set_header Connection "";
            proxy_set_header X-Forwarded-For $proxy_add_x_forwarded_for; proxy_buffering off; proxy_request_buffering off;
            proxy_read_timeout 1h; proxy_connect_timeout 2s; } } }`,
    )
    this.#nginx = spawn(NGINX, ['-p', folder, '-c', join(folder, 'nginx.conf')], { stdio: ['ignore', 'ignore', 'inherit'] })
    while (!existsSync(join(folder, 'pid'))) await pause(20)
    return `http://127.0.0.1:${port}`
  }

  /** Asks, once. @returns null where no answer came */
  async once(path, { method, body, key, url = this.url } = {}) {
    try {
      const response = await fetch(url + path, {
        method: method ?? (body === undefined ? 'GET' : 'POST'),
        headers: {
          authorization: `Bearer ${this.token}`,
          ...(body !== undefined && { 'content-type': 'application/json' }),
          ...(key !== undefined && { 'idempotency-key': key }),
        },
        ...(body !== undefined && { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(15_000),
      })
      const text = await response.text()
      const isJson = /json/.test(response.headers.get('content-type') ?? '')
      return { status: response.status, text, json: isJson ? JSON.parse(text) : undefined }
    } catch {
      return null
    }
  }

  /** Asks until it is answered, as clients do: under one key, again where nobody answers, or who answers is busy. */
  async ask(path, question = {}) {
    for (let tries = 0; ; tries++) {
      const answer = await this.once(path, question)
      if (answer !== null && answer.status < 500 && answer.json?.code !== 'still-running') return answer
      if (tries > 200) throw new Error(`no answer for ${path}: ${answer?.text}`)
      await pause(100)
    }
  }

  /** The names of the workbooks that a server has now. */
  async booksOf(index) {
    const { rows } = await this.database.query(
      `select b.name from mellow_store.leases as l join mellow_store.servers as s on s.id = l.owner join mellow_store.books as b on b.id = l.book
      where s.address = $1 and l.expires > clock_timestamp()`,
      [this.urlOf(index)],
    )
    return rows.map(({ name }) => name)
  }

  async close() {
    for (const index of this.ports.keys()) await this.kill(index)
    this.#nginx?.kill('SIGTERM')
    await this.database.end()
    rmSync(this.#folder, { recursive: true, force: true })
  }
}

async function run(args) {
  const child = spawn(process.execPath, [mellow, ...args], { stdio: ['ignore', 'pipe', 'inherit'] })
  let text = ''
  child.stdout.on('data', (part) => {
    text += part
  })
  await once(child, 'close')
  return text
}

async function copy(from, to) {
  const { copyFile } = await import('node:fs/promises')
  await copyFile(from, to)
}
