import type { ChartDefinition, ChartSeries, Operation } from 'mellow-abacus'
import { useState } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import { Drawing } from './chart-view'
import { FormDialog } from './form-dialog'

const KINDS = ['line', 'point', 'bar', 'area'] as const

interface WrittenSeries {
  readonly formula: string
  readonly kind: ChartSeries['kind']
  readonly axis: 'left' | 'right'
}

/** A chart being made or changed, drawn beside as it stands. */
export function ChartBuilder({
  table: first,
  kept,
  onKept,
  onClose,
}: {
  /** The table that a new one is of. */
  table: string
  /** The chart that is changed; null for a new one. */
  kept: { readonly name: string; readonly definition: ChartDefinition } | null
  onKept: (name: string) => void
  onClose: () => void
}) {
  const book = useDeskBook()
  const { facts } = useBookState()
  const of = kept?.definition
  const [name, setName] = useState(kept?.name ?? '')
  const [source, setSource] = useState(of?.report === undefined ? `table ${of?.table ?? first}` : `report ${of.report}`)
  const [x, setX] = useState(of?.x ?? '')
  const [title, setTitle] = useState(of?.title ?? '')
  const [series, setSeries] = useState<readonly WrittenSeries[]>(
    of?.series.map(({ formula, kind, axis = 'left' }) => ({ formula, kind, axis })) ?? [
      { formula: '', kind: 'line', axis: 'left' },
    ],
  )
  const [degree, setDegree] = useState(of?.fit === undefined ? '' : String(of.fit.degree ?? 1))
  const definition = chartOf({ source, x, title, series, degree }, of)
  const isReady = name.trim() !== '' && definition !== null
  const keep = async (): Promise<void> => {
    if (definition === null || !isReady) return
    const operation: Operation = { op: 'set-chart', name: name.trim(), chart: definition }
    if (await book.apply(operation, `chart ${name.trim()} kept`)) onKept(name.trim())
  }
  const change = (at: number, part: Partial<WrittenSeries>): void =>
    setSeries(series.map((one, place) => (place === at ? { ...one, ...part } : one)))
  return (
    <FormDialog
      title={kept === null ? 'New chart' : `Chart ${kept.name}`}
      keep="Keep the chart"
      isReady={isReady}
      isWide
      onKeep={() => void keep()}
      onClose={onClose}
    >
      <div className="builder">
        <div className="builder-fields">
          <label className="field">
            <span>name</span>
            <input value={name} disabled={kept !== null} onChange={(event) => setName(event.target.value)} placeholder="growth" />
          </label>
          <label className="field">
            <span>of</span>
            <select value={source} onChange={(event) => setSource(event.target.value)}>
              {facts.tables.map((one) => (
                <option key={one.name} value={`table ${one.name}`}>
                  {one.name}
                </option>
              ))}
              {facts.reports.map((one) => (
                <option key={one.name} value={`report ${one.name}`}>
                  report {one.name}
                </option>
              ))}
            </select>
          </label>
          <label className="field">
            <span>along</span>
            <input value={x} onChange={(event) => setX(event.target.value)} placeholder="day" />
          </label>
          {series.map(({ formula, kind, axis }, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: series are told apart by their place alone.
            <div className="row series" key={at}>
              <input
                aria-label={`series ${at + 1}`}
                value={formula}
                onChange={(event) => change(at, { formula: event.target.value })}
                placeholder="honey_kg"
              />
              <select
                aria-label={`kind of series ${at + 1}`}
                value={kind}
                onChange={(event) => change(at, { kind: event.target.value as WrittenSeries['kind'] })}
              >
                {KINDS.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
              <select
                aria-label={`axis of series ${at + 1}`}
                value={axis}
                onChange={(event) => change(at, { axis: event.target.value as WrittenSeries['axis'] })}
              >
                <option>left</option>
                <option>right</option>
              </select>
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove series ${at + 1}`}
                disabled={series.length === 1}
                onClick={() => setSeries(series.filter((_, place) => place !== at))}
              >
                ×
              </button>
            </div>
          ))}
          <div className="row">
            <button type="button" onClick={() => setSeries([...series, { formula: '', kind: 'line', axis: 'left' }])}>
              Another series
            </button>
          </div>
          <label className="field">
            <span>curve</span>
            <select value={degree} onChange={(event) => setDegree(event.target.value)}>
              <option value="">none</option>
              {[1, 2, 3, 4, 5, 6].map((one) => (
                <option key={one} value={one}>
                  of degree {one}, through the first series
                </option>
              ))}
            </select>
          </label>
          <label className="field">
            <span>title</span>
            <input value={title} onChange={(event) => setTitle(event.target.value)} placeholder="made of the names" />
          </label>
        </div>
        <div className="builder-result">
          {definition === null ? (
            <p className="soft">Say what is drawn: a column of numbers, or any formula over one row.</p>
          ) : (
            <Drawing chart={definition} label={`Chart ${name}`} />
          )}
        </div>
      </div>
    </FormDialog>
  )
}

/** The chart as it is written, null while it draws nothing; what the fields do not say of it stays as it was. */
export function chartOf(
  {
    source,
    x,
    title,
    series,
    degree,
  }: {
    readonly source: string
    readonly x: string
    readonly title: string
    readonly series: readonly WrittenSeries[]
    readonly degree: string
  },
  former: ChartDefinition | undefined,
): ChartDefinition | null {
  const drawn = series.filter(({ formula }) => formula.trim() !== '')
  const [first] = drawn
  if (first === undefined) return null
  const { table: _, report: __, x: ___, title: ____, series: old = [], fit, ...rest } = former ?? {}
  const [, kind, of = ''] = /^(table|report) (.*)$/.exec(source) ?? []
  const made = drawn.map(({ formula, kind: how, axis }): ChartSeries => {
    const before = old.find((one) => one.formula === formula.trim())
    return { ...before, formula: formula.trim(), kind: how, ...(axis === 'right' && { axis }) }
  })
  const name = made[0]?.name ?? first.formula.trim()
  return {
    ...rest,
    ...(kind === 'report' ? { report: of } : { table: of }),
    ...(x.trim() !== '' && { x: x.trim() }),
    series: made,
    ...(title.trim() !== '' && { title: title.trim() }),
    ...(degree !== '' && { fit: { ...fit, series: fit?.series ?? name, degree: Number(degree) } }),
  }
}
