import { parse, type Spec, View } from 'vega'
import { expressionInterpreter } from 'vega-interpreter'

/** A compiled specification, as far as this program looks into it. */
interface Compiled {
  readonly data: readonly { readonly name: string }[]
}

const json = (id: string): unknown => JSON.parse(document.getElementById(id)?.textContent ?? 'null')
const { data: points } = json('specification') as { readonly data: { readonly values: unknown } }
const compiled = json('compiled') as Readonly<Record<'light' | 'dark', Compiled>>
const place = document.getElementById('chart') as HTMLElement
const told = document.getElementById('told') as HTMLElement
const isDark = matchMedia('(prefers-color-scheme: dark)')
let shown: View | null = null

/** Draws the chart in the surroundings of now. Expressions are interpreted, so that pages that forbid evaluating text show it too. */
async function draw(): Promise<void> {
  const { data, ...parts } = compiled[isDark.matches ? 'dark' : 'light']
  const filled = { ...parts, data: data.map((one) => (one.name === 'points' ? { ...one, values: points.values } : one)) }
  shown?.finalize()
  place.replaceChildren()
  shown = new View(parse(filled as unknown as Spec, undefined, { ast: true }), {
    expr: expressionInterpreter,
    renderer: 'svg',
    container: place,
    hover: true,
    tooltip: (_, event, __, value) => tell(event as MouseEvent, value),
  })
  await shown.runAsync()
}

/** Tells what is under the pointer, a line a value. */
function tell(event: MouseEvent, value: unknown): void {
  const isKnown = typeof value === 'object' && value !== null
  told.hidden = !isKnown
  if (!isKnown) return
  const rows = Object.entries(value).map(([name, text]) => {
    const row = document.createElement('tr')
    for (const one of [name, String(text)]) row.appendChild(document.createElement('td')).textContent = one
    return row
  })
  const table = document.createElement('table')
  table.append(...rows)
  told.replaceChildren(table)
  const { innerWidth, innerHeight } = window
  const { width, height } = told.getBoundingClientRect()
  told.style.left = `${Math.min(event.clientX + 14, innerWidth - width - 8)}px`
  told.style.top = `${Math.min(event.clientY + 14, innerHeight - height - 8)}px`
}

void draw()
isDark.addEventListener('change', () => void draw())
