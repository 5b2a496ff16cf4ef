import { connect, type WindowRow } from '@mellow-abacus/session'
import './board.css'

const body = document.querySelector('tbody') as HTMLTableSectionElement
const state = document.querySelector('#state') as HTMLElement
const drawn = new Map<number, { row: WindowRow; line: HTMLTableRowElement }>()
const kilograms = new Intl.NumberFormat('en', {
  style: 'unit',
  unit: 'kilogram',
  minimumFractionDigits: 1,
  maximumFractionDigits: 1,
})
const percent = new Intl.NumberFormat('en', { style: 'percent', minimumFractionDigits: 1, maximumFractionDigits: 1 })

/** The line of an apiary; one of which nothing has changed stays as it is. */
function lineOf(row: WindowRow): HTMLTableRowElement {
  const known = drawn.get(row.id)
  if (known?.row.cells === row.cells) return known.line
  const line = known?.line ?? document.createElement('tr')
  const { name, landscape, honey, share } = row.cells
  const [place, taken, part] = ['th', 'td', 'td'].map((kind) => document.createElement(kind)) as [
    HTMLElement,
    HTMLElement,
    HTMLElement,
  ]
  place.append(String(name), Object.assign(document.createElement('small'), { textContent: String(landscape) }))
  taken.textContent = kilograms.format(Number(honey))
  part.textContent = percent.format(Number(share))
  part.style.setProperty('--share', String(share))
  line.replaceChildren(place, taken, part)
  if (known !== undefined && known.row.cells.honey !== honey)
    taken.animate({ backgroundColor: ['#f2c14e', 'transparent'] }, 1_500)
  drawn.set(row.id, { row, line })
  return line
}

try {
  const session = await connect(new URL('/books/honey', location.href).href)
  const window = await session.watch({
    table: 'apiaries',
    order: 'honey desc',
    columns: ['name', 'landscape', 'honey', 'share'],
    to: 9,
  })
  for await (const { rows, count, revision } of window) {
    body.replaceChildren(...rows.map(lineOf))
    state.textContent = `the first ${rows.length} of ${count} apiaries, after ${revision} steps`
  }
} catch (error) {
  state.textContent = `The board cannot be shown: ${(error as Error).message}`
}
