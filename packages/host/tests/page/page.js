// A page with a workbook in a worker. Whoever drives the page has an end of each channel: `passOn` gets what comes out of one.
import { openInWorker } from '@mellow-abacus/host'

const channels = new Map()

// What goes between the page and its driver is text, in which bytes are lists.
const textOf = (message) => JSON.stringify(message, (_, value) => (value instanceof Uint8Array ? { bytes$: [...value] } : value))
const messageOf = (text) => JSON.parse(text, (_, value) => (Array.isArray(value?.bytes$) ? Uint8Array.from(value.bytes$) : value))

let worker
let control

window.begin = async (first) => {
  worker?.terminate()
  worker = new Worker(new URL('./worker.js', import.meta.url), { type: 'module' })
  const { port1, port2 } = new MessageChannel()
  control = port1
  const ready = new Promise((resolve) => {
    worker.onmessage = resolve
  })
  worker.postMessage({ ...first, control: port2 }, [port2])
  await ready
}
window.open = (number, reader) => {
  const { port1, port2 } = new MessageChannel()
  channels.set(number, port1)
  port1.onmessage = ({ data }) => window.passOn(number, textOf(data))
  worker.postMessage({ open: reader, port: port2 }, [port2])
}
window.send = (number, text) => channels.get(number)?.postMessage(messageOf(text))
window.shut = (number) => channels.get(number)?.close()
window.end = () => control.postMessage('close')

/** What a page does by itself, without anyone who drives it. */
window.alone = async (reader) => {
  const session = await openInWorker(worker, reader)
  const window = await session.watch({ table: 'hives', order: 'honey desc', columns: ['code', 'honey'], to: 2 })
  const followed = new Promise((resolve) => window.subscribe(resolve))
  await session.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 1_000 }] })
  const { rows } = await followed
  await session.close()
  return rows.map(({ cells }) => cells)
}
window.isReady = true
