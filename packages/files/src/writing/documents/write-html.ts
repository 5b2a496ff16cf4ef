import type { QueryResult } from 'mellow-abacus'
import { batchesOf } from '../batches.js'
import { BATCH_ROWS, type ByteSink, type WritingOptions } from '../formats.js'
import { type DocumentColumn, type DocumentLine, type DocumentTable, documentTable } from './document-table.js'

/** Most groups that fold; each takes a rule of its own, and a page with many more of them is slow. */
const MOST_FOLDS = 1000
/** Signs of a line that an A4 page holds upright, and lying, at the usual size. */
const [UPRIGHT, LYING] = [92, 138]
/** The smallest size in print, in points. */
const SMALLEST = 5
const USUAL = 9

/**
 * Writes one HTML file that needs nothing else: no script, no network. Groups fold by `<details>`, in print the heads stand on
 * every page, and a wide table lies on its side. Its colours are those of the reader's system (CSS Color 4, system colours).
 */
export async function writeHtml(result: QueryResult, sink: ByteSink, options: WritingOptions = {}): Promise<void> {
  const table = documentTable(result, options)
  const folds = foldsOf(table, options.foldedFrom)
  const encoder = new TextEncoder()
  await sink(encoder.encode(beginning(table, folds, options)))
  const places = Int32Array.from(table.lines.keys())
  for await (const batch of batchesOf(places, BATCH_ROWS, options)) {
    const text = Array.from(batch, (place) => bodyLine(table, folds, place))
    await sink(encoder.encode(text.join('')))
  }
  await sink(encoder.encode('</tbody>\n</table>\n</main>\n</html>\n'))
}

/** Which lines fold what stands under them. */
interface Folds {
  /** The number of the fold that a line is, by its place; undefined for none. */
  readonly own: ReadonlyMap<number, { readonly number: number; readonly isOpen: boolean }>
  /** The folds that each line is in. */
  readonly around: readonly (readonly number[])[]
}

/**
 * The lines that fold: groups with lines under them, the outer levels first where there are too many.
 *
 * @param foldedFrom - lines deeper than this level are folded at first
 */
function foldsOf({ lines }: DocumentTable, foldedFrom = Number.POSITIVE_INFINITY): Folds {
  const isFold = (place: number): boolean => {
    const [line, next] = [lines[place], lines[place + 1]]
    return line?.kind === 'group' && next !== undefined && next.kind !== 'whole' && next.level > line.level
  }
  const candidates = [...lines.keys()].filter(isFold)
  const levels = new Map<number, number>()
  for (const place of candidates) {
    const { level } = lines[place] as DocumentLine
    levels.set(level, (levels.get(level) ?? 0) + 1)
  }
  const folding = new Set<number>()
  let room = MOST_FOLDS
  for (const [level, count] of [...levels].sort(([a], [b]) => a - b)) {
    room -= count
    if (room >= 0) folding.add(level)
  }
  const own = new Map<number, { number: number; isOpen: boolean }>()
  const open: { level: number; number: number }[] = []
  const around = lines.map(({ level, kind }, place) => {
    while (open.length > 0 && (kind === 'whole' || (open.at(-1)?.level ?? 0) >= level)) open.pop()
    const inside = open.map(({ number }) => number)
    if (isFold(place) && folding.has(level)) {
      own.set(place, { number: own.size, isOpen: level < foldedFrom })
      open.push({ level, number: own.size - 1 })
    }
    return inside
  })
  return { own, around }
}

function beginning(table: DocumentTable, folds: Folds, { name = 'table', locale = 'en' }: WritingOptions): string {
  const { about, outline, columns } = table
  const rules = Array.from(folds.own.values(), ({ number }) => `table:has(#f${number}:not([open])) .i${number}{display:none}`)
  const heads = [
    ...(outline === null ? [] : [`<th scope="col">${escaped(outline)}</th>`]),
    ...columns.map(
      ({ heading, unit, isNumber }) =>
        `<th scope="col"${isNumber ? ' class="n"' : ''}>${escaped(heading)}${unit === null ? '' : ` <small>${escaped(unit)}</small>`}</th>`,
    ),
  ]
  return `<!doctype html>
<html lang="${escaped(locale)}">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(name)}</title>
<style>
${style(table)}
${rules.join('\n')}
</style>
</head>
<main>
<h1>${escaped(name)}</h1>
${about === null ? '' : `<p>${escaped(about)}</p>\n`}<table>
<thead><tr>${heads.join('')}</tr></thead>
<tbody>
`
}

function bodyLine({ columns, lines }: DocumentTable, folds: Folds, place: number): string {
  const line = lines[place] as DocumentLine
  const classes = [line.kind, ...(folds.around[place] ?? []).map((number) => `i${number}`)]
  const cells = columns.map((column) => {
    const text = escaped(column.text(line.slot))
    return column.isNumber ? `<td class="n">${text}</td>` : `<td>${text}</td>`
  })
  const label = line.label === null ? '' : headOf(line, folds.own.get(place))
  return `<tr class="${classes.join(' ')}">${label}${cells.join('')}</tr>\n`
}

function headOf(line: DocumentLine, fold: { readonly number: number; readonly isOpen: boolean } | undefined): string {
  const step = Math.max(0, line.level - 1)
  const text = escaped(line.label ?? '')
  const inner =
    fold === undefined ? text : `<details id="f${fold.number}"${fold.isOpen ? ' open' : ''}><summary>${text}</summary></details>`
  return `<th scope="row" style="--in:${step}">${inner}</th>`
}

/** What the page looks like: on the screen, and on A4. */
function style(table: DocumentTable): string {
  const signs = widthInSigns(table)
  const isLying = signs > UPRIGHT
  const size = Math.max(SMALLEST, Math.min(USUAL, (USUAL * (isLying ? LYING : UPRIGHT)) / signs))
  const rule = 'color-mix(in srgb, CanvasText 22%, Canvas)'
  return `:root{color-scheme:light dark}
body{margin:0;background:Canvas;color:CanvasText;font:14px/20px "Noto Sans","DejaVu Sans",system-ui,sans-serif;font-variant-numeric:tabular-nums}
main{padding:24px;width:max-content;max-width:100%;box-sizing:border-box}
h1{font-size:18px;line-height:24px;font-weight:600;margin:0 0 4px}
p{margin:0 0 16px;max-width:90ch}
p,th small{color:color-mix(in srgb, CanvasText 72%, Canvas)}
th small{font-weight:400}
table{border-collapse:collapse}
thead th{position:sticky;top:0;background:Canvas;border-bottom:2px solid CanvasText;vertical-align:bottom}
th,td{text-align:left;padding:4px 20px 4px 0;vertical-align:top;font-weight:400;overflow-wrap:anywhere}
th:last-child,td:last-child{padding-right:0}
thead th,.group,.group th,.others,.others th,.whole,.whole th{font-weight:600}
tbody tr>*{border-bottom:1px solid ${rule}}
tbody th{padding-left:calc(var(--in,0) * 16px)}
.n{text-align:right;white-space:nowrap}
.whole>*{border-top:2px solid CanvasText;border-bottom:0}
summary{cursor:pointer;margin-left:-4px;padding-left:4px}
summary:focus-visible{outline:2px solid Highlight;outline-offset:1px}
tr:not(:has(details))>th[style]{text-indent:0}
@page{size:A4 ${isLying ? 'landscape' : 'portrait'};margin:14mm 12mm}
@media print{:root{color-scheme:light}main{padding:0;width:auto}body{font-size:${round(size)}pt;line-height:1.35}h1{font-size:13pt}
thead{display:table-header-group}thead th{position:static}tr{break-inside:avoid}.group{break-after:avoid}.n{white-space:nowrap}th,td{padding-top:1.5pt;padding-bottom:1.5pt}}`
}

const round = (points: number): string => points.toFixed(1).replace('.0', '')

/** Lines that are looked at for the width; a table of more is hardly wider. */
const LOOKED_AT = 2000

/** How many signs the widest cells of all columns take side by side. */
function widthInSigns({ outline, columns, lines }: DocumentTable): number {
  const some = lines.slice(0, LOOKED_AT)
  const widest = ({ heading, unit, text }: DocumentColumn): number =>
    some.reduce((most, { slot }) => Math.max(most, text(slot).length), heading.length + (unit === null ? 0 : unit.length + 1)) + 2
  const labels = some.reduce(
    (most, { label, level }) => Math.max(most, (label?.length ?? 0) + 2 * level + 2),
    outline?.length ?? 0,
  )
  // What is longer than this wraps.
  return [labels, ...columns.map(widest)].reduce((sum, signs) => sum + Math.min(signs, 44), 0)
}

/** A text as text of a page or of an attribute; signs that a page cannot hold become U+FFFD. */
function escaped(text: string): string {
  return text.replace(/[^\P{Cc}\t\n\r]|\p{Cs}/gu, '\ufffd').replace(/[&<>"]/g, (sign) => ENTITIES[sign] as string)
}

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
