import type { TableFacts } from '@mellow-abacus/session'
import { isSameName } from 'mellow-abacus'
import { z } from 'zod'
import { toldFinding } from './told.js'
import { type AtWork, looking, nameOf, type Tool, ToolFault } from './tool.js'

const MOST_ROWS = 100
const table = nameOf('the name of a table')

/** Tools that only look. */
export const LOOKING_TOOLS: readonly Tool[] = [
  looking({
    name: 'list',
    title: 'List what the workbook has',
    description:
      'What there is in the workbook: tables with their columns and how many rows they have, named values, functions of the workbook, reports and charts, and what may be changed. Begin with it.',
    input: {},
    run: async (_, { session, allowed }) => {
      const { revision, tables, values, functions, reports, charts } = await session.facts()
      return {
        revision,
        mayChange: [...allowed],
        tables: tables.map(({ name, rows, columns }) => ({ name, rows, columns: columns.map((one) => one.name) })),
        values,
        functions: functions.map(({ form, formula, note }) => ({ form, formula, ...(note !== null && { note }) })),
        reports: reports.map(({ name }) => name),
        charts: charts.map(({ name }) => name),
      }
    },
  }),
  looking({
    name: 'describe',
    title: 'Describe a table or a column',
    description:
      'All that is said of a table: its columns with type, unit, formula and note, links to other tables, tallies with their values, rules. With a column also what it holds: counts, extremes, mean, commonest values, findings.',
    input: { table, column: nameOf('the name of a column').optional() },
    run: async ({ table: name, column }, at) => {
      const found = await tableNamed(at, name)
      if (column === undefined) return { ...found, columns: found.columns.map(withoutNothing) }
      const facts = found.columns.find((one) => isSameName(one.name, column))
      if (facts === undefined)
        throw new ToolFault(`Table ${found.name} has no column ${column}. Its columns: ${names(found.columns)}.`)
      const holds = await at.session.profile({ table: found.name, column: facts.name })
      const findings = (await at.session.findings()).filter((one) => one.table === found.name && one.column === facts.name)
      return { ...withoutNothing(facts), holds, findings: findings.map(toldFinding) }
    },
  }),
  looking({
    name: 'query',
    title: 'Look at rows',
    description: `Rows of a table: those of which a condition is true, in an order, of some columns; at most ${MOST_ROWS} at a time. Conditions are written in the language of formulas: "mites > 3 and note is not blank". With a report, the groups and totals of one that is kept.`,
    input: {
      table: table.optional(),
      where: z.string().optional().describe('a condition'),
      order: z.string().optional().describe('columns to sort by, such as "day desc, hive"'),
      columns: z.array(z.string()).optional().describe('names of columns; all when left out'),
      limit: z.number().int().min(1).max(MOST_ROWS).optional().describe('how many rows; 20 when left out'),
      after: z.string().optional().describe('"next" of the page before'),
      report: nameOf('the name of a report, in place of a table').optional(),
    },
    run: async ({ table: name, report, where, order, columns, limit = 20, after }, { session }) => {
      if (report !== undefined) return session.report(report)
      if (name === undefined) throw new ToolFault('Say which table, or which report.')
      const said = {
        ...(where !== undefined && { where }),
        ...(order !== undefined && { order }),
        ...(columns !== undefined && { columns }),
        ...(after !== undefined && { after }),
      }
      return session.query({ table: name, limit, ...said })
    },
  }),
  looking({
    name: 'explain',
    title: 'Explain a formula',
    description: 'A formula, or that of a column, in plain English.',
    input: {
      table,
      formula: z.string().optional().describe('a formula over the columns of the table'),
      column: nameOf('a calculated column, in place of a formula').optional(),
    },
    run: async ({ table: name, formula, column }, at) => {
      if (formula !== undefined) return at.session.explain(name, formula)
      const found = (await tableNamed(at, name)).columns.find((one) => column !== undefined && isSameName(one.name, column))
      if (found?.formula == null) throw new ToolFault('Give a formula, or the name of a column that a formula calculates.')
      return at.session.explain(name, found.formula)
    },
  }),
  looking({
    name: 'why',
    title: 'Say why a value is what it is',
    description:
      'Where the value of a cell comes from: its formula with the values put in, the branch taken, and the same of what it reads. Of a tally or named value without a row. With since: what moved it after that revision, step by step and row by row.',
    input: {
      address: nameOf('"table.column", "tally:table.name" or "value:name"'),
      row: z.number().int().min(1).optional().describe('the id of the row, as query gives it'),
      since: z.number().int().min(0).optional().describe('a revision: what has moved the value since then'),
    },
    run: async ({ address, row, since }, { session }): Promise<object> =>
      since === undefined
        ? session.why(address, row)
        : session.moved({ address, ...(row !== undefined && { row }), from: since }),
  }),
  looking({
    name: 'check',
    title: 'Look for mistakes',
    description:
      'What there is to say about the workbook: mistakes and what is worth a look, with code, severity, message, place, how many rows, and fixes.',
    input: { table: table.optional().describe('of this table only') },
    run: async ({ table: name }, { session }) => {
      const findings = await session.findings()
      const own = name === undefined ? findings : findings.filter((one) => one.table !== undefined && isSameName(one.table, name))
      return { findings: own.map(toldFinding) }
    },
  }),
  looking({
    name: 'suggest',
    title: 'Write a formula from examples',
    description:
      'Formulas that give what is wanted in one to five rows, the best first, in words, with how many blanks and errors each gives on all rows, and a question about a row in which the best two differ.',
    input: {
      table,
      columns: z.array(z.string()).min(1).describe('names of the new columns'),
      from: z.array(z.string()).optional().describe('columns that the formulas may read; all when left out'),
      examples: z
        .array(
          z.object({
            row: z.number().int().min(1).describe('the id of a row'),
            values: z.array(z.union([z.string(), z.number(), z.boolean(), z.null()])).describe('a value for each new column'),
          }),
        )
        .min(1)
        .max(5),
    },
    run: ({ table: name, columns, from, examples: given }, { session }) => {
      const examples = given.map(({ row, values }) => ({
        row,
        values: Object.fromEntries(columns.flatMap((column, at) => (values[at] === undefined ? [] : [[column, values[at]]]))),
      }))
      return session.suggest({ table: name, columns, ...(from !== undefined && { from }), examples, most: 3 })
    },
  }),
]

/** The facts of a table. @throws ToolFault where there is none of this name */
async function tableNamed({ session }: AtWork, name: string): Promise<TableFacts> {
  const { tables } = await session.facts()
  const found = tables.find((one) => isSameName(one.name, name))
  if (found === undefined) throw new ToolFault(`There is no table ${name}. There are: ${names(tables)}.`)
  return found
}

const names = (named: readonly { readonly name: string }[]): string => named.map((one) => one.name).join(', ')

/** Facts without those that say nothing. */
function withoutNothing(facts: object): object {
  return Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== null && value !== false))
}
