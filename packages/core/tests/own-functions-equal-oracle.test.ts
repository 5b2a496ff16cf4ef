import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type OperationJson, Workbook } from '../src/index.js'
import { abstracted } from './helpers/abstracted.js'
import { askOracle } from './helpers/oracle.js'
import { BookOracle } from './helpers/oracle-book.js'
import { randomFormulas, randomRow, SOURCE_COLUMNS } from './helpers/random-formulas.js'
import { cellFor, definition, LINKS, NAMES, rowOf, TABLES, withNames } from './helpers/random-models.js'
import { asResult, shownResult, shownValue, sketchOf } from './helpers/sketch-of-book.js'

/**
 * Random formulas told as calls of random functions: the engine gives for the calls what the oracle gives for the formulas that they
 * were made from, which it knows nothing of functions for. Raise it for a long run:
 * RUNS=20000 npx vitest run --project core own-functions-equal-oracle
 */
const numRuns = Number(process.env.RUNS ?? 80)

const formulas = randomFormulas()

test.each(['number', 'text', 'boolean', 'date'] as const)(
  'a call gives what its function says, to the bit: formulas of type %s',
  (type) => {
    fc.assert(
      fc.property(
        formulas[type],
        fc.array(randomRow, { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 1 }),
        (formula, rows, seed) => {
          const told = abstracted(formula, 'told', seed)
          fc.pre(told !== null)
          const book = new Workbook()
          book.apply([
            { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
            { op: 'insert-rows', table: 't', rows },
            { op: 'add-column', table: 't', column: { name: 'result', formula: told.call } },
            ...told.functions,
          ])
          const expected = rows.map((row) =>
            shownResult(askOracle(formula, new Map(SOURCE_COLUMNS.map((of) => [of.name, asResult(row[of.name], of.type)])))),
          )
          expect(
            book.table('t').column('result').values().map(shownValue),
            told.functions.map((one) => one.formula).join('; '),
          ).toEqual(expected)
        },
      ),
      { numRuns },
    )
  },
  Math.max(60_000, numRuns * 100),
)

test(
  'calls that read several rows give what their functions say, after edits too',
  () => {
    fc.assert(
      fc.property(
        fc.record({
          yards: fc.array(rowOf('yards'), { maxLength: 3 }),
          hives: fc.array(rowOf('hives'), { maxLength: 4 }),
          takes: fc.array(rowOf('takes'), { minLength: 1, maxLength: 7 }),
        }),
        fc.array(definition, { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 1 }),
        fc.array(
          fc.tuple(
            fc.nat(20),
            fc
              .constantFrom('kg', 'lot', 'grade', 'day', 'hive')
              .chain((column) => fc.tuple(fc.constant(column), cellFor('takes', column))),
          ),
          { maxLength: 4 },
        ),
        (rows, definitions, seed, edits) => {
          const written = definitions.map((one, index) => {
            const before = (of: string): string[] =>
              definitions.slice(0, index).flatMap((other, at) => (other.table === of ? [`x${at}`] : []))
            return { ...one, name: `x${index}`, formula: withNames(one, `x${index}`, before) }
          })
          const told = written.map(({ formula, name }, index) => abstracted(formula, `told_${name}`, seed + index, ['price']))
          const book = new Workbook()
          const operations: OperationJson[] = [
            ...NAMES.map((table) => ({
              op: 'add-table',
              table,
              columns: Object.entries(TABLES[table]).map(([name, type]) => ({ name, type })),
            })),
            ...written.map(({ table, name, formula }, index) => ({
              op: 'add-column',
              table,
              column: { name, formula: told[index]?.call ?? formula },
            })),
            ...LINKS.map((link) => ({ op: 'add-link', ...link })),
            ...told.flatMap((one) => one?.functions ?? []),
            { op: 'set-value', name: 'price', value: 1.5 },
            { op: 'set-tally', table: 'takes', name: 'total_kg', formula: 'sum(kg where kg < 100)' },
            { op: 'set-tally', table: 'yards', name: 'hive_sum', formula: 'sum(every hives.frames)' },
            ...NAMES.map((table) => ({ op: 'insert-rows', table, rows: rows[table] })),
          ]
          book.applyJson(operations)
          const hold = (): void => {
            const sketch = sketchOf(book)
            for (const { table, name, formula } of written)
              Object.assign((sketch.tables[table] as { formulas: object }).formulas, { [name]: formula })
            const oracle = new BookOracle(sketch)
            for (const { table, name, formula } of written) {
              const column = book.table(table).column(name)
              const expected = book
                .table(table)
                .rowIds()
                .map((_, row) => shownResult(oracle.cell(table, name, row)))
              expect(column.values().map(shownValue), `${name} = ${formula}, told as ${column.formula}`).toEqual(expected)
            }
          }
          hold()
          const ids = book.table('takes').rowIds()
          for (const [at, [column, value]] of edits) {
            book.applyJson({ op: 'set-cells', table: 'takes', cells: [{ row: ids[at % ids.length], column, value }] })
            hold()
          }
          book.applyJson({ op: 'set-value', name: 'price', value: 2.5 })
          hold()
        },
      ),
      { numRuns: Math.ceil(numRuns / 2), endOnFailure: process.env.SHRINK === 'no' },
    )
  },
  Math.max(60_000, numRuns * 200),
)
