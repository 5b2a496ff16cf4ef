import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

/** A fence of a page of the guide. */
interface Fence {
  readonly language: string
  readonly lines: readonly string[]
  /** Line of the page that its first line is. */
  readonly from: number
}

/** A page of the guide as programs: one of all its fences in order, and files of their own, which say so in their first line. */
export interface GuidePage {
  readonly files: Readonly<Record<string, string>>
  /** The file that runs the page. */
  readonly main: string
  readonly commands: readonly string[]
}

const OWN_FILE = /^\/\/ file: (\S+)$/

/** Reads a page of `docs/guide`. */
export function guidePage(name: string): GuidePage {
  const text = readFileSync(fileURLToPath(new URL(`../docs/guide/${name}.md`, import.meta.url)), 'utf8')
  const files: Record<string, string> = {}
  const program: string[] = []
  const commands: string[] = []
  let main = `${name}.ts`
  for (const { language, lines, from } of fencesOf(text)) {
    const own = OWN_FILE.exec(lines[0] ?? '')?.[1]
    if (language === 'sh') commands.push(...lines)
    else if (own !== undefined) files[own] = lines.join('\n')
    else {
      if (language === 'tsx') main = `${name}.tsx`
      program.push(...lines.map((line, at) => checked(line, `${name}.md:${from + at}`)))
    }
  }
  return { files: { ...files, [main]: ["import { gives, throws } from './checks.js'", ...program].join('\n') }, main, commands }
}

function* fencesOf(text: string): Generator<Fence> {
  let open: { language: string; lines: string[]; from: number } | null = null
  for (const [at, line] of text.split('\n').entries()) {
    if (open !== null && line === '```') {
      yield open
      open = null
    } else if (open !== null) open.lines.push(line)
    else if (/^```\w+$/.test(line)) open = { language: line.slice(3), lines: [], from: at + 2 }
  }
}

/** A line that says what it gives, or which code it throws, as a check of that. */
function checked(line: string, place: string): string {
  const said = /^(.*\S)\s+\/\/ (→|throws) (.*)$/.exec(line)
  if (said === null) return line
  const [, statement = '', kind, value] = said
  if (kind === 'throws') return `throws(() => ${statement}, '${value}', '${place}')`
  return `gives(${statement}, ${value}, '${place}')`
}

/** What the checks of a page call: `checks.js` beside it. */
export const CHECKS = `
import { deepStrictEqual } from 'node:assert'
let count = 0
const plain = (value) => JSON.parse(JSON.stringify(value ?? null))
export function gives(value, expected, place) {
  deepStrictEqual(plain(value), plain(expected), place)
  count++
}
export function throws(work, code, place) {
  let thrown
  try { work() } catch (error) { thrown = error.code }
  deepStrictEqual(thrown, code, place)
  count++
}
process.on('exit', () => console.log(count + ' checks'))
`

/** Its types. */
export const CHECKS_TYPES = `
export declare function gives(value: unknown, expected: unknown, place: string): void
export declare function throws(work: () => unknown, code: string, place: string): void
`
