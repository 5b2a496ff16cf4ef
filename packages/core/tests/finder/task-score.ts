import { Workbook } from '../../src/index.js'
import type { FinderTask } from './example-tasks.js'
import { MEASURES, SITES, tableOf } from './lists.js'

/** How a task was answered. */
export interface Score {
  /** Place of the first right suggestion, from 1; 0 for none. */
  readonly place: number
  readonly formulas: readonly Readonly<Record<string, string>>[]
  readonly milliseconds: number
  readonly refusal: string
  /** Formulas that fail an example; there are none. */
  readonly failing: readonly string[]
}

/** Asks for a task, and looks which suggestion gives on all rows what the task's own formula gives. */
export function scoreOf({ list, from, wanted, given }: FinderTask, further: readonly string[] = []): Score {
  const book = new Workbook({ now: '2026-11-30' })
  book.apply(tableOf(list))
  if (list === MEASURES)
    book.apply([...tableOf(SITES), { op: 'add-link', table: list.name, columns: ['site'], to: 'sites', keys: ['code'] }])
  const names = Object.keys(wanted)
  const right = names.map((name) => book.evaluate(list.name, wanted[name] as string))
  const ids = book.evaluate(list.name, '1').rows
  const examples = given.map((row) => ({
    row: ids[row - 1] as number,
    values: Object.fromEntries(names.map((name, at) => [name, right[at]?.values[row - 1] as string | number])),
  }))
  const start = performance.now()
  try {
    const found = book.suggest({ table: list.name, from: [...from, ...further], columns: names, examples })
    const milliseconds = performance.now() - start
    const place = found.findIndex(({ formulas }) =>
      names.every((name, at) => {
        const { values } = book.evaluate(list.name, formulas[name] as string)
        return values.every((value, row) => keyOf(value) === keyOf(right[at]?.values[row]))
      }),
    )
    const failing = found.flatMap(({ formulas }) =>
      names.flatMap((name, at) => {
        const { values } = book.evaluate(list.name, formulas[name] as string)
        return given.every((row) => isMeant(values[row - 1], right[at]?.values[row - 1])) ? [] : [formulas[name] as string]
      }),
    )
    return { place: place + 1, formulas: found.map(({ formulas }) => formulas), milliseconds, refusal: '', failing }
  } catch (error) {
    return { place: 0, formulas: [], milliseconds: performance.now() - start, refusal: String(error), failing: [] }
  }
}

/** True for a value that is what an example says, numbers at the digits it says: a text may stand for a number. */
function isMeant(value: unknown, wanted: unknown): boolean {
  if (typeof value !== 'number' || wanted === null || wanted === '') return keyOf(value) === keyOf(wanted)
  const number = Number(wanted)
  const decimals = String(wanted).split('.')[1]?.length ?? 0
  return Math.abs(value - number) <= 0.5 * 10 ** -decimals * (1 + 1e-9) + Math.abs(number) * 1e-12
}

/** A value as it is compared: numbers at twelve digits, an empty text as nothing. */
function keyOf(value: unknown): string {
  if (typeof value === 'number') return String(Number(value.toPrecision(12)))
  return value === '' || value === null || value === undefined ? '' : JSON.stringify(value)
}
