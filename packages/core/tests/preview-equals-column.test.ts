import fc from 'fast-check'
import { expect, test } from 'vitest'
import { CellFault, type Finding, Workbook } from '../src/index.js'
import { randomFormulas, randomRow, SOURCE_COLUMNS } from './helpers/random-formulas.js'

const numRuns = Number(process.env.RUNS ?? 500)

/** Findings without what differs by where they stand. */
function told(findings: readonly Finding[]): unknown {
  return findings.map(({ code, rows, from, to }) => ({ code, rows, from, to }))
}

/**
 * A preview lists the rows of each branch, while a column defined on whole blocks computes plain branches for all rows and
 * blends them: both must give the same cells and count the same rows.
 */
test.each(['number', 'text', 'boolean'] as const)('a preview says what the column then holds, formulas of type %s', (type) => {
  fc.assert(
    fc.property(randomFormulas()[type], fc.array(randomRow, { minLength: 1, maxLength: 12 }), (formula, rows) => {
      const book = new Workbook()
      book.apply([
        { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
        { op: 'insert-rows', table: 't', rows },
      ])
      const preview = book.previewColumn('t', { name: 'result', formula })
      book.apply({ op: 'add-column', table: 't', column: { name: 'result', formula } })
      const column = book.table('t').column('result')
      const values = column.values()
      expect(told(column.findings())).toEqual(told(preview.findings))
      expect(values.filter((value) => value === null)).toHaveLength(preview.blanks)
      expect(values.filter((value) => value instanceof CellFault)).toHaveLength(preview.errors)
      for (const { row, result } of preview.rows) expect(column.value(row)).toEqual(result)
    }),
    { numRuns },
  )
})
