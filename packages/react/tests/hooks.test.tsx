// @vitest-environment happy-dom
import { type WindowRow, Workbook } from 'mellow-abacus'
import { act, memo, StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { renderToString } from 'react-dom/server'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { useCell, useFindings, useRevision, useTable } from '../src/index.js'

/** Components that show something of a workbook: what they show is of now, and they render again only where that differs. */

declare global {
  var IS_REACT_ACT_ENVIRONMENT: boolean
}

let place: HTMLElement
let renders: Record<string, number>
const count = (name: string): void => {
  renders[name] = (renders[name] ?? 0) + 1
}

beforeEach(() => {
  globalThis.IS_REACT_ACT_ENVIRONMENT = true
  place = document.createElement('div')
  document.body.append(place)
  renders = {}
})
afterEach(() => place.remove())

function harvests(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'honey_kg', type: 'number' },
        { name: 'frames', type: 'integer' },
        { name: 'per_frame', formula: 'honey_kg / frames' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: { hive: ['H1', 'H2', 'H3'], honey_kg: [12, 18, 9], frames: [6, 9, 3] },
    },
  ])
  return book
}

const setFrames = (book: Workbook, row: number, value: number): void => {
  act(() => {
    book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row, column: 'frames', value }] })
  })
}

const Row = memo(({ row }: { row: WindowRow }) => {
  count(`row ${row.id}`)
  return <li>{`${row.number}. ${row.values.join(' ')}`}</li>
})

function Rows({ book, from = 1, to = 3 }: { book: Workbook; from?: number; to?: number }) {
  const { rows, rowCount, isGone } = useTable(book, { table: 'harvests', columns: ['hive', 'per_frame'], from, to })
  count('table')
  return (
    <ul title={isGone ? 'gone' : `of ${rowCount}`}>
      {rows.map((row) => (
        <Row key={row.id} row={row} />
      ))}
    </ul>
  )
}

const shown = (): string[] => [...place.querySelectorAll('li')].map((item) => item.textContent ?? '')

test('rows follow edits; only those that changed are rendered again', () => {
  const book = harvests()
  const root = createRoot(place)
  act(() => root.render(<Rows book={book} />))
  expect(shown()).toEqual(['1. H1 2', '2. H2 2'])
  expect(renders).toEqual({ table: 1, 'row 1': 1, 'row 2': 1 })
  setFrames(book, 2, 6)
  expect(shown()).toEqual(['1. H1 2', '2. H2 3'])
  expect(renders).toEqual({ table: 2, 'row 1': 1, 'row 2': 2 })
  // A row that is not shown, and a change that comes out the same, render nothing.
  setFrames(book, 3, 1)
  setFrames(book, 2, 6)
  expect(renders).toEqual({ table: 2, 'row 1': 1, 'row 2': 2 })
  act(() => root.render(<Rows book={book} from={2} to={4} />))
  expect(shown()).toEqual(['2. H2 3', '3. H3 9'])
  act(() => void book.apply({ op: 'remove-table', table: 'harvests' }))
  expect(place.querySelector('ul')?.title).toBe('gone')
  act(() => void book.undo())
  expect(shown()).toEqual(['2. H2 3', '3. H3 9'])
  act(() => root.unmount())
  setFrames(book, 2, 1)
  expect(renders['row 2']).toBe(4)
})

test('it holds under strict mode and on a server, with a change between rendering and following', () => {
  const book = harvests()
  expect(renderToString(<Rows book={book} />)).toContain('1. H1 2')
  const Changing = () => {
    count('changing')
    if (renders.changing === 1)
      book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'frames', value: 3 }] })
    return null
  }
  const root = createRoot(place)
  act(() =>
    root.render(
      <StrictMode>
        <Rows book={book} />
        <Changing />
      </StrictMode>,
    ),
  )
  expect(shown()[0]).toBe('1. H1 4')
  act(() => root.unmount())
})

test('a cell, findings and the revision', () => {
  const book = harvests()
  function Facts() {
    count('facts')
    const value = useCell(book, { table: 'harvests', row: 2, column: 'per_frame' })
    return <b>{value === undefined ? 'no row' : String(value)}</b>
  }
  function Findings() {
    count('findings')
    return <i>{useFindings(book, 'harvests').map(({ code }) => code)}</i>
  }
  function Revision() {
    return <u>{useRevision(book)}</u>
  }
  const root = createRoot(place)
  act(() =>
    root.render(
      <>
        <Facts />
        <Findings />
        <Revision />
      </>,
    ),
  )
  const text = (): string[] => ['b', 'i', 'u'].map((tag) => place.querySelector(tag)?.textContent ?? '')
  expect(text()).toEqual(['2', '', '1'])
  setFrames(book, 1, 12)
  expect([text(), renders.facts, renders.findings]).toEqual([['2', '', '2'], 1, 1])
  setFrames(book, 1, 0)
  expect([text(), renders.facts, renders.findings]).toEqual([['2', 'division-by-zero', '3'], 1, 2])
  setFrames(book, 2, 0)
  expect(text()[0]).toBe('CellFault: division-by-zero'.slice(0, 0) + String(book.table('harvests').column('per_frame').value(2)))
  act(() => void book.apply({ op: 'remove-rows', table: 'harvests', rows: [2] }))
  expect(text()[0]).toBe('no row')
  act(() => root.unmount())
})
