import type { QueryResult } from 'mellow-abacus'
import { type CellWording, cellTexts } from './cell-texts.js'
import type { TextSink } from './formats.js'

const BATCH_ROWS = 4096

const wording: CellWording = {
  blank: 'null',
  text: (text) => JSON.stringify(text),
  date: (iso) => `"${iso}"`,
  fault: (code) => `{"error":"${code}"}`,
}

/**
 * Writes JSON (one array, an object a line) or NDJSON. Objects are written key by key from the column list, so a column
 * called `2024` keeps its place and `__proto__` is a name like any other.
 */
export async function writeJson(result: QueryResult, format: 'json' | 'ndjson', sink: TextSink): Promise<void> {
  const { slots, columns } = result
  const keys = columns.map((column, place) => `${place === 0 ? '' : ','}${JSON.stringify(column.name)}:`)
  const isArray = format === 'json'
  if (isArray) await sink(slots.length === 0 ? '[' : '[\n')
  for (let from = 0; from < slots.length; from += BATCH_ROWS) {
    const batch = slots.subarray(from, from + BATCH_ROWS)
    const cells = columns.map((column) => cellTexts(column, batch, wording))
    let text = ''
    for (let row = 0; row < batch.length; row++) {
      text += '{'
      for (let place = 0; place < cells.length; place++) text += (keys[place] as string) + (cells[place] as string[])[row]
      const isLast = from + row === slots.length - 1
      text += isArray && !isLast ? '},\n' : '}\n'
    }
    await sink(text)
  }
  if (isArray) await sink(']\n')
}
