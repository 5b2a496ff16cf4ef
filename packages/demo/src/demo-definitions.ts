import { DEMO_BOOK, type DemoBook, type DemoChart, type DemoReport } from './demo-book.js'

/** An operation that defines something of the demo workbook, as `apply` takes it. */
export type DemoDefinition = { readonly op: string } & Readonly<Record<string, unknown>>

/**
 * The operations that define over the demo tables what the co-operative keeps, as the tour at the terminal does word by word.
 *
 * @returns operations to be applied to a workbook with the tables of `demoOperations`
 */
export function demoDefinitions(book: DemoBook = DEMO_BOOK): DemoDefinition[] {
  const { tables, links, values, columns, tallies, units, rules, reports, fit, charts } = book
  const [y] = cut(fit.quantities, ' by ')
  return [
    ...tables.flatMap(({ name: table, label, key }) =>
      label === undefined ? [] : [{ op: 'change-table', table, set: { label, ...(key !== undefined && { key: [key] }) } }],
    ),
    ...links.map(linkOperation),
    ...values.map((value) => ({ op: 'set-value', ...named(value) })),
    ...columns.flatMap(({ table, definitions }) =>
      definitions.map((definition) => ({ op: 'add-column', table, column: named(definition) })),
    ),
    ...tallies.map(({ table, definition }) => ({ op: 'set-tally', table, ...named(definition) })),
    ...units.map(({ address, unit }) => ({ op: 'change-column', ...placeOf(address), set: { unit } })),
    ...rules.map(({ table, definition, note }) => {
      const [name, condition] = cut(definition, ': ')
      return { op: 'set-rule', table, name, condition, note }
    }),
    { op: 'add-column', table: 'inspections', column: { name: 'entered', type: 'datetime' } },
    {
      op: 'set-stamp',
      table: 'inspections',
      column: 'entered',
      stamp: { when: ['mites', 'note'], on: 'first-fill', content: 'time' },
    },
    { op: 'change-column', table: 'harvests', column: 'forage', set: { orderKey: 'flow_begins' } },
    { op: 'change-column', table: 'harvests', column: 'worth', set: { display: 'currency:EUR' } },
    ...reports.map((report) => ({ op: 'set-report', name: report.name, report: viewOf(report) })),
    ...charts.map((chart) => ({ op: 'set-chart', name: chart.name, chart: chartOf(chart, reports) })),
    ...[
      { name: fit.define, formula: curve(y, 'day_no', fit.degree) },
      { name: fit.residuals, formula: `${y} - ${fit.define}` },
    ].map((column) => ({ op: 'add-column', table: fit.table, column })),
  ]
}

const cut = (text: string, at: string): [before: string, behind: string] => {
  const place = text.indexOf(at)
  return place < 0 ? [text, text] : [text.slice(0, place), text.slice(place + at.length)]
}

const named = (definition: string): { readonly name: string; readonly formula: string } => {
  const [name, formula] = cut(definition, ' = ')
  return { name, formula }
}

const placeOf = (address: string): { readonly table: string; readonly column: string } => {
  const [table, column] = cut(address, '.')
  return { table, column }
}

function linkOperation(link: string): DemoDefinition {
  const [from, to] = cut(link, ' -> ').map(placeOf) as [ReturnType<typeof placeOf>, ReturnType<typeof placeOf>]
  return { op: 'add-link', table: from.table, columns: [from.column], to: to.table, keys: [to.column] }
}

/** A polynomial through what was measured, as a formula of its coefficients. */
function curve(y: string, x: string, degree: number): string {
  const terms = Array.from({ length: degree + 1 }, (_, power) => {
    const coefficient = `polynomial(${y}, ${x}, ${degree}, ${power})`
    return power === 0 ? coefficient : `${coefficient} * ${x}${power === 1 ? '' : `^${power}`}`
  })
  return terms.join(' + ')
}

function viewOf({ table, groups, across, tallies, lines, order, display }: DemoReport): object {
  const level = (text: string): object => {
    const { name, formula } = named(text)
    return name === formula ? { key: formula } : { name, key: formula }
  }
  const [column, pattern] = display === undefined ? [] : cut(display, ': ')
  return {
    table,
    levels: groups.split(/,\s(?![^(]*\))/).map(level),
    ...(across !== undefined && { across: level(across) }),
    tallies: tallies.map(named),
    lines: lines.map(named).map((line) => ({ ...line, ...(line.name === column && { display: pattern }) })),
    ...(order !== undefined && { order: [{ by: order.replace(/ desc$/, ''), descending: order.endsWith(' desc') }] }),
  }
}

function chartOf({ of, options }: DemoChart, reports: readonly DemoReport[]): object {
  const said = new Map<string, string>()
  for (const [at, word] of options.entries()) if (word.startsWith('--')) said.set(word.slice(2), options[at + 1] ?? '')
  const series = ['line', 'point', 'bar', 'right'].flatMap((kind) =>
    (said.get(kind) ?? '')
      .split(', ')
      .filter((name) => name !== '')
      .map((formula) => ({ formula, ...(kind === 'right' ? { kind: 'line', axis: 'right' } : { kind }) })),
  )
  const [fitted, degree] = cut(said.get('fit') ?? '', ': ')
  const isReport = reports.some(({ name }) => name === of)
  return {
    ...(isReport ? { report: of } : { table: of }),
    ...(said.has('x') && { x: said.get('x') }),
    series,
    title: said.get('title'),
    ...(said.has('fit') && { fit: { series: fitted, degree: Number(degree), residuals: said.has('residuals') } }),
  }
}
