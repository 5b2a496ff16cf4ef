// Writes what charts know as tables: the colours of the token file, and how wide the signs of their font are. With `--check`
// it only says whether they are what they should be.
import { readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { fileURLToPath } from 'node:url'

const folder = fileURLToPath(new URL('../packages/charts/', import.meta.url))
const require = createRequire(`${folder}package.json`)
const fontkit = require('fontkit')
const isCheck = process.argv.includes('--check')

/** Signs whose widths are kept: Latin, Greek, Cyrillic, punctuation, raised and lowered digits, currencies, arrows, mathematics. */
const RANGES = [
  [0x20, 0x7e],
  [0xa0, 0x24f],
  [0x370, 0x3ff],
  [0x400, 0x45f],
  [0x2010, 0x2044],
  [0x2070, 0x209c],
  [0x20a0, 0x20bf],
  [0x2190, 0x21ff],
  [0x2200, 0x22ff],
]

function widthsOf(name) {
  const font = fontkit.openSync(require.resolve(`dejavu-fonts-ttf/ttf/${name}.ttf`))
  return RANGES.map(([first, last]) => {
    const widths = Array.from({ length: last - first + 1 }, (_, at) => {
      const code = first + at
      if (!font.hasGlyphForCodePoint(code)) return 1000
      return Math.round((font.glyphForCodePoint(code).advanceWidth / font.unitsPerEm) * 1000)
    })
    return { first, widths }
  })
}

function colours(css) {
  return Object.fromEntries(Array.from(css.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g), ([, name, value]) => [name, value]))
}

const css = readFileSync(`${folder}src/tokens.css`, 'utf8')
const [light, dark] = css.split('@media (prefers-color-scheme: dark)')
const header = '// Made by `npm run reference`: change '

const tables = {
  'src/tokens.ts': `${header}\`tokens.css\`, from which it is read.

/** The colours of the token file by their names, for light and for dark surroundings. */
export const TOKENS: Readonly<Record<'light' | 'dark', Readonly<Record<string, string>>>> = ${JSON.stringify({ light: colours(light), dark: colours(dark) })}
`,
  'src/font-widths.ts': `${header}the fonts, from which it is read.

/** Widths of signs in thousandths of the size of the font, by the code point of the first. */
export interface SignWidths {
  readonly first: number
  readonly widths: readonly number[]
}

/** Widths of the signs of DejaVu Sans 2.37, from its table of advance widths (\`hmtx\` of OpenType). */
export const FONT_WIDTHS: Readonly<Record<'regular' | 'bold', readonly SignWidths[]>> = ${JSON.stringify({ regular: widthsOf('DejaVuSans'), bold: widthsOf('DejaVuSans-Bold') })}
`,
}

let stale = 0
for (const [name, text] of Object.entries(tables)) {
  const path = `${folder}${name}`
  if (!isCheck) writeFileSync(path, text)
  else if (readFileSync(path, 'utf8') !== text) {
    stale++
    console.error(`packages/charts/${name} is not what its source says: npm run reference`)
  }
}
if (stale > 0) process.exit(1)
