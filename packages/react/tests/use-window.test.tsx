// @vitest-environment happy-dom
import { BookHost, heldWorkbook } from '@mellow-abacus/host'
import type { BookSession, WindowRequest, WindowRow } from '@mellow-abacus/session'
import { Workbook } from 'mellow-abacus'
import { act, memo, StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { useWindow } from '../src/index.js'

declare global {
  var IS_REACT_ACT_ENVIRONMENT: boolean
}

let place: HTMLElement
let renders: Record<string, number>
let session: BookSession

beforeEach(() => {
  globalThis.IS_REACT_ACT_ENVIRONMENT = true
  place = document.createElement('div')
  document.body.append(place)
  renders = {}
  const host = new BookHost(heldWorkbook(({ keep }) => new Workbook({ keep })))
  host.held.reader({ role: 'own' }).apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'honey_kg', type: 'number' },
        { name: 'pots', formula: 'honey_kg * 2' },
      ],
    },
    { op: 'insert-rows', table: 'harvests', block: { hive: ['H1', 'H2', 'H3'], honey_kg: [12, 18, 9] } },
  ])
  session = host.open({ role: 'edit', author: 'Ada' })
})
afterEach(() => place.remove())

const Row = memo(({ row }: { row: WindowRow }) => {
  renders[row.id] = (renders[row.id] ?? 0) + 1
  return <li>{`${row.place}. ${Object.values(row.cells).join(' ')}`}</li>
})

const List = ({ request }: { request: WindowRequest }) => {
  const { shown, fault } = useWindow(session, request)
  if (fault !== null) return <p>{fault.message}</p>
  return <ul>{shown === null ? 'loading' : shown.rows.map((row) => <Row key={row.id} row={row} />)}</ul>
}

const lines = (): string[] => [...place.querySelectorAll('li')].map((line) => line.textContent ?? '')
const set = (row: number, value: number): Promise<void> =>
  act(async () => {
    await session.apply({ op: 'set-cells', table: 'harvests', cells: [{ row, column: 'honey_kg', value }] })
  })

test('a component shows a window, follows edits row by row, moves, and ends it when it goes', async () => {
  const root = createRoot(place)
  const show = (request: WindowRequest): Promise<void> => act(async () => root.render(<List request={request} />))
  act(() => root.render(<List request={{ table: 'harvests' }} />))
  expect(place.textContent).toBe('loading')
  await act(async () => undefined)
  expect(lines()).toEqual(['1. H1 12 24', '2. H2 18 36', '3. H3 9 18'])
  await set(2, 1)
  expect([lines()[1], renders]).toEqual(['2. H2 1 2', { 1: 1, 2: 2, 3: 1 }])
  await show({ table: 'harvests', from: 2, to: 3 })
  expect(lines()).toEqual(['2. H2 1 2'])
  await show({ table: 'harvests', where: 'pots > 10', order: 'honey_kg', columns: ['hive'] })
  expect(lines()).toEqual(['1. H3', '2. H1'])
  await show({ table: 'harvest' })
  expect(place.textContent).toBe('The workbook has no table called harvest. Nearest name: harvests.')
  await act(async () => root.unmount())
  await set(1, 2)
})

test('it survives being mounted twice, as strict mode does', async () => {
  const root = createRoot(place)
  await act(async () =>
    root.render(
      <StrictMode>
        <List request={{ table: 'harvests', to: 2 }} />
      </StrictMode>,
    ),
  )
  await set(1, 2)
  expect(lines()).toEqual(['1. H1 2 4'])
  await act(async () => root.unmount())
})
