// What drawing charts needs besides its code: two fonts, and the program of pages.
import { cpSync, mkdirSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'

const charts = fileURLToPath(new URL('../packages/charts/', import.meta.url))

/** Puts it all into a folder. */
export async function shipWithCharts(folder) {
  mkdirSync(folder, { recursive: true })
  const fonts = dirname(createRequire(`${charts}package.json`).resolve('dejavu-fonts-ttf/package.json'))
  for (const name of ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf']) cpSync(join(fonts, 'ttf', name), join(folder, name))
  cpSync(join(fonts, 'LICENSE'), join(folder, 'LICENSE-fonts'))
  await build({
    entryPoints: [join(charts, 'src/viewer/viewer.ts')],
    outfile: join(folder, 'viewer.js'),
    bundle: true,
    minify: true,
    format: 'iife',
    platform: 'browser',
    target: 'es2022',
    legalComments: 'inline',
    tsconfigRaw: {},
    logLevel: 'warning',
  })
}
