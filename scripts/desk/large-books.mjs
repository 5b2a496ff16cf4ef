// Large workbooks for measuring the page: a million rows of forty columns, and a hundred thousand of two hundred. A fifth of the
// columns are calculated, each from the two before it.
import { rmSync } from 'node:fs'
import { BookFile } from '@mellow-abacus/files'

/** Makes a workbook of one table `readings`; gives its path. */
export function makeLarge(path, rows, columns) {
  for (const part of ['', '-wal', '-shm', '-writer', '-writer-journal']) rmSync(path + part, { force: true })
  const file = BookFile.create(path)
  const isCalculated = (at) => at % 5 === 4
  const sources = Array.from({ length: columns }, (_, at) => at).filter((at) => !isCalculated(at))
  const name = (at) => `scale_${at + 1}`
  file.apply({
    op: 'add-table',
    table: 'readings',
    columns: sources.map((at) => ({ name: name(at), type: 'number', unit: 'kg' })),
  })
  const block = Object.fromEntries(
    sources.map((at) => [name(at), Float64Array.from({ length: rows }, (_, row) => ((row * (at + 7)) % 4_001) / 100)]),
  )
  file.apply({ op: 'insert-rows', table: 'readings', count: rows, block })
  const calculated = Array.from({ length: columns }, (_, at) => at).filter(isCalculated)
  file.apply(
    calculated.map((at) => ({
      op: 'add-column',
      table: 'readings',
      column: { name: name(at), formula: `${name(at - 2)} + 2 * ${name(at - 1)}` },
      ...(at + 1 < columns && { before: name(at + 1) }),
    })),
  )
  file.close()
  return path
}
