import { Menu, MenuItemRadio, MenuProvider } from '@ariakit/react'
import type { ColumnFacts, SessionValue, TableFacts } from '@mellow-abacus/session'
import { memo, useCallback, useEffect, useState } from 'react'
import { useAnswer, useDeskBook } from '../book/use-book'
import { GHOST } from '../formula/ghost'
import { counted, countedOf } from '../look/cell-text'
import { Distribution } from '../look/distribution'
import { type Heights, type LaidOut, NUMBER_WIDTH } from './layout'
import { errorsFormula, TOTAL_NAMES, type Total, totalFormula, totalsOf, totalText } from './totals'

/** Milliseconds after an edit before totals are asked for again. */
const CALM_MS = 150
/** Rows up to which the distributions of all columns in sight are drawn; of larger tables that of one column is in the slip. */
const MOST_SHAPED = 50_000

/** The totals line: under each column the total chosen for it, and under a condition that of the rows shown beside it of all. */
export function Beam({
  table,
  where,
  shown,
  columns,
  pinned,
  from,
  to,
  starts,
  calm,
  heights,
  totalOf,
  onTotal,
}: {
  table: TableFacts
  where: string
  /** How many rows the condition keeps. */
  shown: number
  columns: readonly LaidOut[]
  pinned: number
  from: number
  to: number
  starts: readonly number[]
  /** The revision since which nothing was done for a moment. */
  calm: number
  heights: Heights
  totalOf: (one: LaidOut) => Total
  onTotal: (name: string, total: Total) => void
}) {
  const seen = [...columns.slice(0, pinned), ...columns.slice(from, to)]
  const wanted = seen.filter((one) => totalOf(one) !== 'none' && one.column.type !== null)
  const all = useTotals(table.name, '', wanted, totalOf, calm)
  const kept = useTotals(table.name, where, wanted, totalOf, calm)
  const shapes = useShapes(table, seen, calm)
  const total = starts.at(-1) as number
  const [menu, setMenu] = useState<{ readonly name: string; readonly anchor: HTMLElement } | null>(null)
  const open = useCallback((name: string, anchor: HTMLElement) => setMenu({ name, anchor }), [])
  const cell = (place: number, isPinned: boolean) => {
    const one = columns[place] as LaidOut
    const { column, look, width } = one
    const kind = totalOf(one)
    const { unit } = column
    const values = where === '' ? all : kept
    const errors = values.get(`${column.name} errors`)
    const text = totalText(kind, values.get(column.name), look, unit)
    const whole = where === '' ? '' : totalText(kind, all.get(column.name), look, unit)
    const skipped = typeof errors === 'number' && errors > 0 ? `${counted(errors)} skipped` : ''
    const under = [kind === 'none' || text === '' ? '' : TOTAL_NAMES[kind], whole === '' ? '' : `of ${whole}`, skipped]
    const isNumber = look.type === 'number' || look.type === 'integer'
    return (
      <BeamCell
        key={column.name}
        {...{ place, width, isNumber, text }}
        name={column.name}
        under={under.filter((part) => part !== '').join(' · ')}
        left={isPinned ? null : NUMBER_WIDTH + (starts[place] as number)}
        steps={shapes.get(column.name) ?? NO_STEPS}
        onChoose={open}
      />
    )
  }
  const chosenOf = menu === null ? undefined : columns.find(({ column }) => column.name === menu.name)
  return (
    <div
      className="beam"
      role="row"
      aria-rowindex={shown + 2}
      style={{ height: heights.beam, width: NUMBER_WIDTH + total }}
      title={where === '' ? countedOf(table.rows, 'row') : `${counted(shown)} of ${countedOf(table.rows, 'row')}`}
    >
      <div className="row-edge">
        <span role="rowheader" className="row-number" style={{ width: NUMBER_WIDTH }}>
          {where === '' ? 'all' : 'shown'}
        </span>
        {Array.from({ length: pinned }, (_, at) => cell(at, true))}
      </div>
      {Array.from({ length: to - from }, (_, at) => cell(from + at, false))}
      {menu !== null && chosenOf !== undefined && (
        <MenuProvider
          open
          setOpen={(isOpen) => isOpen || setMenu(null)}
          values={{ total: totalOf(chosenOf) }}
          setValues={(next) => onTotal(menu.name, next.total as Total)}
        >
          <Menu
            className="menu"
            gutter={4}
            portal
            autoFocusOnShow
            getAnchorRect={() => menu.anchor.getBoundingClientRect()}
            aria-label={`Total of ${menu.name}`}
          >
            {totalsOf(chosenOf.column).map((one) => (
              <MenuItemRadio key={one} name="total" value={one} className="menu-item" hideOnClick>
                {TOTAL_NAMES[one]}
              </MenuItemRadio>
            ))}
          </Menu>
        </MenuProvider>
      )}
    </div>
  )
}

/** The total of one column, as a button that opens what else could be totalled. */
const BeamCell = memo(function BeamCell({
  name,
  place,
  left,
  width,
  isNumber,
  text,
  under,
  steps,
  onChoose,
}: {
  name: string
  place: number
  /** Where it stands; null where it is pinned. */
  left: number | null
  width: number
  isNumber: boolean
  text: string
  under: string
  /** How often its values occur, from the smallest to the largest. */
  steps: readonly number[]
  onChoose: (name: string, anchor: HTMLElement) => void
}) {
  return (
    <div
      role="gridcell"
      tabIndex={-1}
      aria-colindex={place + 2}
      className={`beam-cell ${isNumber ? 'numeric' : ''}`}
      style={left === null ? { width } : { width, left }}
    >
      {name !== GHOST && (
        <button
          type="button"
          className="beam-total"
          tabIndex={-1}
          aria-haspopup="menu"
          title={`${name}: ${text}`}
          onClick={(event) => onChoose(name, event.currentTarget)}
        >
          {steps.length > 1 && <Distribution steps={steps} width={width - 20} height={10} label={`how ${name} is spread`} />}
          <b>{text || '–'}</b>
          <small>{under || ' '}</small>
        </button>
      )}
    </div>
  )
})

/** Totals of some columns over the rows that a condition keeps, asked for again when the workbook has been calm for a moment. */
function useTotals(
  table: string,
  where: string,
  wanted: readonly LaidOut[],
  totalOf: (one: LaidOut) => Total,
  calm: number,
): ReadonlyMap<string, SessionValue> {
  const { session } = useDeskBook()
  const tallies = wanted.flatMap((one) => [
    { name: one.column.name, formula: totalFormula(totalOf(one), one.column.name) },
    { name: `${one.column.name} errors`, formula: errorsFormula(one.column.name) },
  ])
  const key = tallies.length === 0 ? null : JSON.stringify([table, where, tallies, calm])
  const { answer } = useAnswer(key, async () => {
    const report = await session.report({ table, ...(where !== '' && { where }), tallies })
    const whole = report.lines.find(({ kind }) => kind === 'whole')?.values ?? []
    return { table, values: new Map(report.columns.map(({ name }, at) => [name, whole[at] as SessionValue])) }
  })
  return answer?.table === table ? answer.values : NONE
}

/** How often the values of the columns in sight occur; of tables that are too large for it by the way, nothing. */
function useShapes(table: TableFacts, seen: readonly LaidOut[], calm: number): ReadonlyMap<string, readonly number[]> {
  const { session } = useDeskBook()
  const names = table.rows > MOST_SHAPED ? [] : seen.flatMap(({ column }) => (isShaped(column) ? [column.name] : []))
  const key = names.length === 0 ? null : JSON.stringify([table.name, names, calm])
  const { answer } = useAnswer(key, async () => {
    const profiles = await Promise.all(names.map((column) => session.profile({ table: table.name, column })))
    return new Map(profiles.map(({ steps }, at) => [names[at] as string, steps]))
  })
  return answer ?? NO_SHAPES
}

const isShaped = ({ name, type }: ColumnFacts): boolean =>
  name !== GHOST && (type === 'number' || type === 'integer' || type === 'date' || type === 'datetime')

const NO_STEPS: readonly number[] = []
const NO_SHAPES: ReadonlyMap<string, readonly number[]> = new Map()
const NONE: ReadonlyMap<string, SessionValue> = new Map()

/** The revision since which nothing was done for a moment. */
export function useCalm(revision: number): number {
  const [calm, setCalm] = useState(revision)
  useEffect(() => {
    const timer = setTimeout(() => setCalm(revision), CALM_MS)
    return () => clearTimeout(timer)
  }, [revision])
  return calm
}
