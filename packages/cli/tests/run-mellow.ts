import { spawn } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { fileURLToPath } from 'node:url'
import { run } from '../src/main.js'
import { forEyes } from '../src/shell/foreign-text.js'

/** The tool's file. */
export const bin: string = fileURLToPath(new URL('../bin/mellow.js', import.meta.url))

/** What a run of the tool came to. */
export interface Run {
  readonly code: number | null
  readonly out: string
  readonly err: string
}

/** A folder of its own with files in it. */
export function folderWith(files: Record<string, string | Uint8Array>): string {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-'))
  for (const [name, content] of Object.entries(files)) writeFileSync(join(folder, name), content)
  return folder
}

/** Runs the tool as a process, as a shell would. */
export function mellow(args: readonly string[], options: { folder?: string; input?: string } = {}): Promise<Run> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [bin, ...args], { cwd: options.folder, env: { ...process.env, NO_COLOR: '1' } })
    let out = ''
    let err = ''
    child.stdout.setEncoding('utf8').on('data', (text: string) => {
      out += text
    })
    child.stderr.setEncoding('utf8').on('data', (text: string) => {
      err += text
    })
    child.on('error', reject).on('close', (code) => resolve({ code, out, err }))
    child.stdin.on('error', () => undefined).end(options.input ?? '')
  })
}

/** One command line at a time has the folder of this process. */
let last: Promise<unknown> = Promise.resolve()

/**
 * Runs a command line in this process, which starts nothing: for tests of what commands do. What the process itself is about
 * (streams, signals, exit codes, several at a time) is tested by `mellow`.
 */
export function mellowHere(args: readonly string[], options: { folder?: string; input?: string } = {}): Promise<Run> {
  const run = last.then(() => runHere(args, options))
  last = run.catch(() => undefined)
  return run
}

async function runHere(args: readonly string[], { folder, input = '' }: { folder?: string; input?: string }): Promise<Run> {
  const before = process.cwd()
  const out: Uint8Array[] = []
  const err: string[] = []
  const write = (text: string | Uint8Array): void => void out.push(Buffer.from(text))
  if (folder !== undefined) process.chdir(folder)
  try {
    const code = await run(args, {
      out: write,
      show: (text) => write(forEyes(text)),
      err: (text) => void err.push(forEyes(text)),
      isTerminal: false,
      showsProgress: false,
      colours: false,
      columns: 120,
      input: Readable.from(input === '' ? [] : [Buffer.from(input)]),
    })
    return { code, out: Buffer.concat(out).toString(), err: err.join('') }
  } finally {
    process.chdir(before)
  }
}
