import type { Cell } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { explainFormula } from '../../formula/index.js'
import { type FormulaTemplate, stemsOf, type TemplateSlot, templatesFor } from '../../functions/index.js'
import { CellFault, foldName, printName } from '../../values/index.js'
import { type Model, type RowsTable, type ShownValue, scopeOf, showCell } from '../model/index.js'
import { TriedRows } from './tried-rows.js'

/** Formulas for a purpose, made of the columns at hand. */
export interface FilledTemplate {
  /** A formula for each new column, by names that are free. */
  readonly formulas: Readonly<Record<string, string>>
  /** What they do, in plain English. */
  readonly explanation: string
  /** What they give in the first rows of the table that have something to show. */
  readonly preview: readonly { readonly rowNumber: number; readonly values: Readonly<Record<string, ShownValue>> }[]
}

/** Something that can fill a slot. */
interface Filling {
  /** As it stands in a formula. */
  readonly text: string
  /** As it stands in a name. */
  readonly name: string
  readonly takes: TemplateSlot['takes'][number]
  readonly stems: readonly string[]
  /** What speaks for it whatever is asked: a unit, a link; against it: that it names rows. */
  readonly worth: number
}

const MOST_FILLED = 6
const MOST_SHOWN = 3
/** What likeness to a phrase is worth. */
const OF_LIKENESS = 15
/** Fillings that are tried for a slot. */
const MOST_FOR_A_SLOT = 8
/** What a word of a question, a usual word of a name, and each word of the question that is not used are worth. */
const OF_QUESTION = 3
const OF_NAME = 1.2
const OF_NEGLECT = 1
/** What a group that is not named takes away: rows are seldom put together by chance. */
const OF_UNNAMED_GROUP = 3

/**
 * Formulas that answer to words, filled with columns of a table: those that the words name, else those whose types and names fit.
 *
 * @param words - what the formulas are for, such as `average by site`
 */
export function fillTemplates(model: Model, engine: Engine, tableName: string, words: string): FilledTemplate[] {
  const table = model.table(tableName)
  const fillings = fillingsOf(model, table)
  const sought = stemsOf(words.replaceAll('_', ' '))
  const rows = new TriedRows(model, engine, table, [])
  const answers = templatesFor(
    words,
    fillings.map(({ name }) => name),
  ).flatMap(({ template, phrase, likeness }) => {
    const filled = filledBy(template, fillings, sought, phrase)
    return filled === null ? [] : [{ template, filled, score: OF_LIKENESS * likeness + filled.score }]
  })
  const known = new Set<string>()
  return answers
    .sort((a, b) => b.score - a.score)
    .flatMap(({ template, filled: { chosen } }) => {
      const formulas = formulasOf(template, chosen, table)
      const key = Object.values(formulas).join('\n')
      const tried = known.has(key) ? null : triedOf(formulas, rows)
      known.add(key)
      return tried === null ? [] : [{ formulas, tried }]
    })
    .slice(0, MOST_FILLED)
    .map(({ formulas, tried }) => ({
      formulas,
      explanation: Object.entries(formulas)
        .map(([name, formula]) => explained(model, table, formula, Object.keys(formulas).length > 1 ? name : null))
        .join(' '),
      preview: previewOf(tried, rows, table),
    }))
}

/** The columns of a table, and what is linked to its rows. */
function fillingsOf(model: Model, table: RowsTable): Filling[] {
  const keys = new Set(table.links.flatMap(({ columns }) => columns))
  const { label, key } = table.properties
  const own = table.columns
    .filter(({ properties }) => properties.hidden !== true)
    .flatMap((column): Filling[] => {
      if (column.type === null) return []
      const names = column.id === label || (key?.length === 1 && key[0] === column.id)
      const worth = (column.properties.unit === undefined ? 0 : 0.4) + (keys.has(column) ? 0.6 : 0) - (names ? 1 : 0)
      return [
        {
          text: printName(column.name),
          name: column.name,
          takes: column.type,
          stems: stemsOf(column.name.replaceAll('_', ' ')),
          worth,
        },
      ]
    })
  const leading = model.tables.filter(
    (other): other is RowsTable => other.role === 'rows' && other.links.some(({ to }) => to === table) && other !== table,
  )
  const linked = leading.flatMap((other): Filling[] => {
    const ofTable = stemsOf(other.name.replaceAll('_', ' '))
    const numbers = other.columns.filter(({ type }) => type === 'number' || type === 'integer')
    return [
      { text: printName(other.name), name: other.name, takes: 'rows', stems: ofTable, worth: 0 },
      ...numbers.map(
        (column): Filling => ({
          text: `${printName(other.name)}.${printName(column.name)}`,
          name: column.name,
          takes: 'linked',
          stems: [...ofTable, ...stemsOf(column.name.replaceAll('_', ' '))],
          worth: column.properties.unit === undefined ? 0 : 0.4,
        }),
      ),
    ]
  })
  return [...own, ...linked]
}

/** The best fillings of the slots together; null where one has none. */
function filledBy(
  template: FormulaTemplate,
  fillings: readonly Filling[],
  sought: readonly string[],
  phrase: readonly string[],
): { chosen: ReadonlyMap<string, Filling>; score: number } | null {
  // Words that say what is wanted are not taken for names of columns.
  const asked = sought.filter((stem) => !phrase.includes(stem))
  const slots = Object.entries(template.slots)
  const ways = slots.reduce<Way[]>(
    (some, [, slot]) => {
      const worths = fillings
        .flatMap((filling, place) =>
          slot.takes.includes(filling.takes) ? [{ filling, worth: worthOf(filling, place, slot, asked) }] : [],
        )
        .sort((a, b) => b.worth - a.worth)
        .slice(0, MOST_FOR_A_SLOT)
      return some.flatMap((way) =>
        worths
          .filter(({ filling }) => !way.chosen.includes(filling))
          .map(({ filling, worth }) => ({ chosen: [...way.chosen, filling], worth: way.worth + worth })),
      )
    },
    [{ chosen: [], worth: 0 }],
  )
  const [best] = ways.sort((a, b) => b.worth - a.worth)
  if (best === undefined) return null
  const ofColumns = new Set(fillings.flatMap(({ stems }) => stems))
  const taken = new Set(best.chosen.flatMap(({ stems }) => stems))
  const neglected = asked.filter((stem) => ofColumns.has(stem) && !taken.has(stem)).length
  return {
    chosen: new Map(slots.map(([slot], at) => [slot, best.chosen[at] as Filling])),
    score: best.worth / Math.max(1, slots.length) - OF_NEGLECT * neglected,
  }
}

/** Fillings of the first slots. */
interface Way {
  readonly chosen: readonly Filling[]
  readonly worth: number
}

/** What speaks for a filling of a slot. */
function worthOf(
  filling: Filling,
  place: number,
  { words = [], isGroup = false }: TemplateSlot,
  asked: readonly string[],
): number {
  const { stems, takes, worth } = filling
  const named = stems.filter((stem) => asked.includes(stem))
  const usual = words.flatMap(stemsOf)
  const isUsual = stems.some((stem) => usual.includes(stem))
  // Of several columns that are named, the one named first fills the first slot.
  const order = named.reduce((least, stem) => Math.min(least, asked.indexOf(stem)), 9)
  const ofGroup = isGroup ? (takes === 'text' ? 0.5 : 0) - (named.length === 0 ? OF_UNNAMED_GROUP : 0) : 0
  const ofName = (OF_QUESTION * named.length) / Math.max(1, stems.length) + (isUsual ? OF_NAME : 0)
  return ofName + ofGroup + worth - 0.02 * place - 0.05 * order
}

/** The formulas of a template with columns put in, under names that are free. */
function formulasOf(
  { formulas }: FormulaTemplate,
  chosen: ReadonlyMap<string, Filling>,
  table: RowsTable,
): Record<string, string> {
  const put = (text: string, of: (filling: Filling) => string): string =>
    text.replace(/\{(\w+)\}/g, (slot, name: string) => {
      const filling = chosen.get(name)
      return filling === undefined ? slot : of(filling)
    })
  const taken = new Set(table.columns.map(({ name }) => foldName(name)))
  return Object.fromEntries(
    Object.entries(formulas).map(([name, formula]) => {
      const wanted = put(name, (filling) => filling.name)
      let free = wanted
      for (let number = 2; taken.has(foldName(free)); number++) free = `${wanted}_${number}`
      taken.add(foldName(free))
      return [free, put(formula, (filling) => filling.text)]
    }),
  )
}

type TriedFormulas = readonly { readonly name: string; readonly tried: NonNullable<ReturnType<TriedRows['try']>> }[]

function triedOf(formulas: Readonly<Record<string, string>>, rows: TriedRows): TriedFormulas | null {
  const tried = Object.entries(formulas).map(([name, formula]) => ({ name, tried: rows.try(formula, rows.few) }))
  return tried.every((one): one is TriedFormulas[number] => one.tried !== null) ? tried : null
}

function previewOf(formulas: TriedFormulas, rows: TriedRows, table: RowsTable): FilledTemplate['preview'] {
  const hasValue = (cell: Cell): boolean => cell !== null && !(cell instanceof CellFault)
  const filled = rows.few.filter((slot) => formulas.every(({ tried }) => hasValue(tried.cells[slot] ?? null)))
  return (filled.length > 0 ? filled : rows.few).slice(0, MOST_SHOWN).map((slot) => ({
    rowNumber: table.store.rows.placeOf(slot) + 1,
    values: Object.fromEntries(formulas.map(({ name, tried }) => [name, showCell(tried.cells[slot] ?? null, tried.type)])),
  }))
}

function explained(model: Model, table: RowsTable, formula: string, name: string | null): string {
  const { lines } = explainFormula(formula, scopeOf(model, table))
  return `${name === null ? '' : `${name}: `}${lines.map((line) => line.text).join(' ')}`
}
