import { execFileSync } from 'node:child_process'
import { chownSync, existsSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** Who the server runs as where the tests run as root, which PostgreSQL refuses to. */
const UNPRIVILEGED = 'postgres'

const isRoot = process.getuid?.() === 0

/** Runs a program of PostgreSQL as somebody without rights. */
function run(folder, program, args) {
  const path = join(binaries(), program)
  const [command, all] = isRoot ? ['runuser', ['-u', UNPRIVILEGED, '--', path, ...args]] : [path, args]
  return execFileSync(command, all, { cwd: folder, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })
}

function binaries() {
  return execFileSync('pg_config', ['--bindir'], { encoding: 'utf8' }).trim()
}

function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })
}

/** Starts a server of PostgreSQL on a free port of this machine, in a folder of its own. */
export async function startServer() {
  const folder = mkdtempSync(join(tmpdir(), 'postgresql-'))
  if (isRoot) {
    const [uid, gid] = ['-u', '-g'].map((flag) => Number(execFileSync('id', [flag, UNPRIVILEGED], { encoding: 'utf8' })))
    chownSync(folder, uid, gid)
  }
  const data = join(folder, 'data')
  const port = await freePort()
  run(folder, 'initdb', ['-D', data, '-A', 'trust', '-U', 'mellow', '--no-locale', '-E', 'UTF8', '--no-sync'])
  const options = `-p ${port} -k ${folder} -c listen_addresses=127.0.0.1 -c fsync=off`
  const start = () => run(folder, 'pg_ctl', ['-D', data, '-w', '-l', join(folder, 'log'), '-o', options, 'start'])
  start()
  return {
    address: `postgresql://mellow@127.0.0.1:${port}/postgres`,
    port,
    /** Ends it as a crash does, and begins it again. */
    restart: () => {
      run(folder, 'pg_ctl', ['-D', data, '-w', '-m', 'immediate', 'stop'])
      start()
    },
    stop: () => {
      if (existsSync(data)) run(folder, 'pg_ctl', ['-D', data, '-m', 'immediate', 'stop'])
      rmSync(folder, { recursive: true, force: true })
    },
  }
}
