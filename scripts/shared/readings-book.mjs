// The workbook that shared workbooks are measured with: readings of hives with calculated columns.
import { BookFile } from '../../packages/files/dist/index.js'

/** Makes a workbook of so many readings at a path; with few calculated columns, or all twenty. */
export function makeReadings(path, rows, { few = false } = {}) {
  const file = BookFile.create(path)
  const chain = Array.from({ length: 16 }, (_, at) => ({
    name: `step_${at}`,
    formula: at === 0 ? 'kg * 2' : `step_${at - 1} + 1`,
  }))
  const columns = [
    ...chain,
    { name: 'total', formula: 'sum(kg by hive)' },
    { name: 'part', formula: 'kg per total' },
    { name: 'apiary', formula: 'hive.apiary' },
    { name: 'heavy', formula: 'if(kg > 50, 1, 0)' },
  ]
  const hives = Array.from({ length: 1_000 }, (_, at) => `H${at}`)
  file.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'code', type: 'text' },
        { name: 'apiary', type: 'text' },
      ],
    },
    { op: 'insert-rows', table: 'hives', block: { code: hives, apiary: hives.map((_, at) => `Apiary ${at % 20}`) } },
    {
      op: 'add-table',
      table: 'readings',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'readings',
      block: {
        hive: Array.from({ length: rows }, (_, at) => `H${at % 1_000}`),
        kg: Array.from({ length: rows }, (_, at) => at % 97),
      },
    },
    { op: 'add-link', table: 'readings', columns: ['hive'], to: 'hives', keys: ['code'] },
    ...(few ? columns.slice(0, 3) : columns).map((column) => ({ op: 'add-column', table: 'readings', column })),
  ])
  file.close()
}
