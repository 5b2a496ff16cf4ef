import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'

/** Pixels of a file for each of a drawing. */
const SCALE = 2

/** Path of a file that ships with the package. */
function shipped(name: string): string {
  return createRequire(import.meta.url).resolve(`#shipped/${name}`)
}

/** An SVG drawing as PNG, in the fonts that ship with the package: those of the machine may be none. */
export async function drawPng(svg: string): Promise<Uint8Array> {
  const { Resvg } = await import('@resvg/resvg-js')
  const fontFiles = ['DejaVuSans.ttf', 'DejaVuSans-Bold.ttf'].map(shipped)
  const font = { loadSystemFonts: false, fontFiles, defaultFontFamily: 'DejaVu Sans' }
  return new Resvg(svg, { font, fitTo: { mode: 'zoom', value: SCALE } }).render().asPng()
}

/** The program of pages: what draws a chart there. */
export function viewerCode(): Promise<string> {
  return readFile(shipped('viewer.js'), 'utf8')
}
