import fc from 'fast-check'
import { expect, test } from 'vitest'
import { CellFault, FUNCTIONS, type ShownValue, Workbook } from '../src/index.js'
import { askOracle, type Result } from './helpers/oracle.js'
import { ORACLE_FUNCTIONS } from './helpers/oracle-functions.js'
import { randomFormulas, randomRow, SOURCE_COLUMNS, type SourceCell } from './helpers/random-formulas.js'

/** Raise it for a long run: RUNS=100000 npx vitest run --project core engine-equals-oracle */
const numRuns = Number(process.env.RUNS ?? 1000)

/** A source cell as the oracle knows it. */
function known(cell: SourceCell, type: string): Result {
  if (cell === null) return null
  if (typeof cell === 'object') return { fault: 'misfit' }
  if (type === 'date') return { type, value: Date.parse(`${cell}T00:00:00Z`) / 86_400_000 }
  if (type === 'datetime') return { type, value: Date.parse(`${cell}Z`) }
  return { type, value: cell } as Result
}

function shown(result: Result): string {
  if (result === null) return 'blank'
  if ('fault' in result) return `!${result.fault}`
  if (result.type === 'date') return `date ${result.value}`
  if (result.type === 'datetime') return `time ${result.value}`
  return Object.is(result.value, -0) ? '-0' : JSON.stringify(result.value)
}

function shownValue(value: ShownValue, type: string | null): string {
  if (value === null) return 'blank'
  if (value instanceof CellFault) return `!${value.code}`
  if (type === 'date') return `date ${Date.parse(`${String(value)}T00:00:00Z`) / 86_400_000}`
  if (type === 'datetime') return `time ${Date.parse(`${String(value)}Z`)}`
  return Object.is(value, -0) ? '-0' : JSON.stringify(value)
}

const formulas = randomFormulas()

test.each(['number', 'text', 'boolean', 'date'] as const)(
  'the engine gives what the oracle gives, to the bit: formulas of type %s',
  (type) => {
    fc.assert(
      fc.property(formulas[type], fc.array(randomRow, { minLength: 1, maxLength: 8 }), (formula, rows) => {
        const book = new Workbook()
        book.apply([
          { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
          { op: 'insert-rows', table: 't', rows },
          { op: 'add-column', table: 't', column: { name: 'result', formula } },
        ])
        const column = book.table('t').column('result')
        const expected = rows.map((row) =>
          shown(askOracle(formula, new Map(SOURCE_COLUMNS.map(({ name, type: of }) => [name, known(row[name] ?? null, of)])))),
        )
        expect(column.values().map((value) => shownValue(value, column.type))).toEqual(expected)
      }),
      { numRuns },
    )
  },
  Math.max(60_000, numRuns * 60),
)

test('the oracle knows every function of one row but those that follow the clock', () => {
  const own = [
    'if',
    'coalesce',
    'first_of',
    'blank_if',
    'if_error',
    'concat',
    'join',
    'today',
    'now',
    'random',
    'random_between',
    'convert',
  ]
  const across = FUNCTIONS.filter((record) => record.family === 'across').map((record) => record.name)
  const rowLevel = FUNCTIONS.filter((record) => record.form !== 'aggregate' && record.form !== 'ordered').map(
    (record) => record.name,
  )
  expect(
    rowLevel.filter((name) => !own.includes(name) && !across.includes(name) && ORACLE_FUNCTIONS[name] === undefined),
  ).toEqual([])
})
