import { type ChartDefinition, type GroupedView, Workbook } from 'mellow-abacus'

/** A season of takes: dates, texts in an order of their own, units, gaps and errors. */
export function season(rows = 60): Workbook {
  const book = new Workbook({ now: 0 })
  const all = Array.from({ length: rows }, (_, at) => at)
  const flows = ['lime', 'clover', 'heather, from the moor above the river and the two old quarries']
  const day = (at: number): string => new Date(Date.UTC(2026, 4, 1 + at)).toISOString().slice(0, 10)
  book.apply([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'day', type: 'date' },
        { name: 'hour', type: 'number', unit: 'h', symbol: 't' },
        { name: 'flow', type: 'text' },
        { name: 'first', type: 'integer' },
        { name: 'kg', type: 'number', unit: 'kg', symbol: 'm' },
        { name: 'bees.alive', type: 'integer' },
        { name: 'warm', type: 'number', unit: '°C' },
        { name: 'ripe', type: 'boolean' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'takes',
      block: {
        day: all.map(day),
        hour: all.map((at) => at / 4),
        flow: all.map((at) => flows[at % 3] as string),
        first: all.map((at) => [2, 1, 3][at % 3] as number),
        kg: all.map((at) => (at % 11 === 5 ? null : 10 + 5 * Math.sin(at / 9))),
        'bees.alive': all.map((at) => 20_000 + 300 * at),
        warm: all.map((at) => 15 + (at % 13)),
        ripe: all.map((at) => at % 4 === 0),
      },
    },
    { op: 'add-column', table: 'takes', column: { name: 'rate', formula: 'kg / (warm - 20)', display: 'percent' } },
    { op: 'change-column', table: 'takes', column: 'flow', set: { orderKey: 'first' } },
    { op: 'set-report', name: 'by_flow', report: BY_FLOW },
    { op: 'set-report', name: 'across', report: { ...BY_FLOW, levels: [{ key: 'flow' }], across: { key: 'ripe' } } },
  ])
  return book
}

const BY_FLOW: GroupedView = {
  table: 'takes',
  levels: [{ key: 'ripe' }, { key: 'flow' }],
  tallies: [
    { name: 'total', formula: 'sum(kg)' },
    { name: 'warmth', formula: 'mean(warm)' },
  ],
}

const takes = (x: string, ...series: ChartDefinition['series']): ChartDefinition => ({ table: 'takes', x, series })

/** Charts of every sort, by what they show. */
export const CHARTS: Readonly<Record<string, ChartDefinition>> = {
  'three lines along dates': takes(
    'day',
    { formula: 'kg', kind: 'line' },
    { formula: 'warm', kind: 'line' },
    { formula: '`bees.alive`', kind: 'line', axis: 'right' },
  ),
  'points, with a curve and what it leaves': {
    ...takes('hour', { formula: 'kg', kind: 'point' }),
    fit: { series: 'kg', degree: 3, residuals: true },
  },
  'a curve with given coefficients, over dates': {
    ...takes('day', { formula: 'warm', kind: 'point' }),
    fit: { series: 'warm', coefficients: [1, 15] },
  },
  'bars of texts in the order of their key': takes('flow', { formula: 'kg', kind: 'bar' }, { formula: 'warm', kind: 'bar' }),
  'bars along dates': takes('day', { formula: 'kg', kind: 'bar' }, { formula: 'warm', kind: 'bar' }),
  'bars along numbers, with a line': takes(
    'hour',
    { formula: 'kg', kind: 'bar' },
    { formula: 'warm', kind: 'line', axis: 'right' },
  ),
  'areas with gaps and errors': takes(
    'hour',
    { formula: 'kg', kind: 'area' },
    { formula: 'rate', kind: 'area', color: '#aa3311' },
  ),
  'on the right alone': takes('day', { formula: 'kg', kind: 'line', axis: 'right' }),
  'groups in groups': { report: 'by_flow', series: [{ formula: 'total', kind: 'bar' }] },
  'a tally across': { report: 'across', series: [{ formula: 'total', kind: 'bar' }], total: true },
  'in the order of a series': { ...takes('hour', { formula: 'warm', kind: 'line' }), order: { by: 'warm', descending: true } },
  'with titles and no legend': {
    ...takes('ripe', { formula: 'kg', kind: 'bar' }, { formula: 'warm', kind: 'line' }),
    title: 'A title that is so long that it takes more than one line of the drawing, however wide it may have become',
    xTitle: 'ripe <or not>',
    leftTitle: 'as "measured" & written down',
    legend: false,
  },
}
