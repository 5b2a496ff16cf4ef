import type { QueryResult } from 'mellow-abacus'
import { batchesOf } from '../batches.js'
import { BATCH_ROWS, type ByteSink, type WritingOptions } from '../formats.js'
import { type DocumentLine, documentTable } from './document-table.js'

/** A step in of an outline: spaces at the beginning of a cell are not shown. */
const STEP = '&emsp;'

/** Writes a table of GitHub Flavored Markdown (its specification, 4.10): groups bold and set in, numbers at the right. */
export async function writeMarkdown(result: QueryResult, sink: ByteSink, options: WritingOptions = {}): Promise<void> {
  const { about, outline, columns, lines } = documentTable(result, options)
  const encoder = new TextEncoder()
  const heads = [
    ...(outline === null ? [] : [escaped(outline)]),
    ...columns.map(({ heading, unit }) => escaped(unit === null ? heading : `${heading} ${unit}`)),
  ]
  const rules = [...(outline === null ? [] : ['---']), ...columns.map(({ isNumber }) => (isNumber ? '---:' : '---'))]
  const head = [...(about === null ? [] : [escaped(about), '']), row(heads), row(rules)]
  await sink(encoder.encode(`${head.join('\n')}\n`))
  const places = Int32Array.from(lines.keys())
  for await (const batch of batchesOf(places, BATCH_ROWS, options)) {
    const text = Array.from(batch, (place) => {
      const line = lines[place] as DocumentLine
      const cells = columns.map((column) => strong(escaped(column.text(line.slot)), line))
      return row(line.label === null ? cells : [labelOf(line), ...cells])
    })
    await sink(encoder.encode(`${text.join('\n')}\n`))
  }
}

const row = (cells: readonly string[]): string => `| ${cells.join(' | ')} |`

function labelOf(line: DocumentLine): string {
  return STEP.repeat(Math.max(0, line.level - 1)) + strong(escaped(line.label ?? ''), line)
}

const strong = (text: string, { kind }: DocumentLine): string => (kind === 'row' || text === '' ? text : `**${text}**`)

/** A text that stands for itself: no mark of the format, no tag, one line. */
function escaped(text: string): string {
  return text
    .replace(/\s*[\r\n]+\s*/g, ' ')
    .replace(/[\\`*_{}[\]<>|~#]/g, (sign) => (sign === '<' ? '&lt;' : sign === '>' ? '&gt;' : `\\${sign}`))
    .trim()
}
