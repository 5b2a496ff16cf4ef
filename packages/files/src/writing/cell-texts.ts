import { BLOCK_ROWS, CellFault, faultOfStatus, printDate, printDateTime, printNumber, type QueryColumn, Status } from 'mellow-abacus'

/** How a writer says each kind of cell. */
export interface CellWording {
  readonly blank: string
  readonly text: (text: string) => string
  readonly date: (iso: string) => string
  readonly fault: (code: string) => string
}

/**
 * The cells of a column at some slots, each as a writer's format has it: numbers as the shortest text that reads back equal,
 * dates in ISO 8601, a source misfit as its own text.
 *
 * @param slots - storage slots, in the order wanted
 */
export function cellTexts(column: QueryColumn, slots: Int32Array, wording: CellWording): string[] {
  const { storage, type, calculated } = column
  const texts = new Array<string>(slots.length)
  if (storage === undefined) return texts.fill(wording.blank)
  const dateText = eachOnce(printDate)
  const isTime = type === 'datetime'
  const isDate = type === 'date'
  for (let k = 0; k < slots.length; k++) {
    const slot = slots[k] as number
    const block = storage.peek(Math.floor(slot / BLOCK_ROWS))
    const row = slot % BLOCK_ROWS
    const status = block?.status[row] ?? Status.blank
    if (block === undefined || status === Status.blank) texts[k] = wording.blank
    else if (status !== Status.value) {
      const cell = storage.read(slot)
      const kept = !calculated && cell instanceof CellFault ? cell.text : undefined
      texts[k] = kept === undefined ? wording.fault(faultOfStatus(status)) : wording.text(kept)
    } else if (block.kind === 'text') texts[k] = wording.text(block.values[row] as string)
    else if (block.kind === 'boolean') texts[k] = block.values[row] === 1 ? 'true' : 'false'
    else if (isDate) texts[k] = wording.date(dateText(block.values[row] as number))
    else if (isTime) texts[k] = wording.date(printDateTime(block.values[row] as number))
    else texts[k] = printNumber(block.values[row] as number)
  }
  return texts
}

/** Prints each different day of a batch once. */
function eachOnce(print: (epochDay: number) => string): (epochDay: number) => string {
  const known = new Map<number, string>()
  return (epochDay) => {
    let text = known.get(epochDay)
    if (text === undefined) {
      text = print(epochDay)
      known.set(epochDay, text)
    }
    return text
  }
}
