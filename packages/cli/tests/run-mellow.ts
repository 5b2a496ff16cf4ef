import { spawn } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

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
