import { type EncodedTexts, makeVector, type Selection, type Vector } from '../../columns/index.js'
import { FAULT_CODES, Status, type StorageKind } from '../../values/index.js'

/** Status bytes come first, so that what is no value has a place of its own before the texts. */
const STATUSES: number = Status.firstFault + FAULT_CODES.length

/** What an expression gives for each text of a column, as far as it was asked for; it lives as long as one evaluation. */
export class TextResults {
  #results: Vector
  #isKnown: Uint8Array = new Uint8Array(STATUSES)

  constructor(kind: StorageKind) {
    this.#results = makeVector(kind, STATUSES)
  }

  /** Places of what the selected rows hold and no one has computed yet; from now on they count as known. */
  unknownOf({ codes, status, texts }: EncodedTexts, selection: Selection): number[] {
    this.#reserve(STATUSES + texts.length)
    const known = this.#isKnown
    const fresh: number[] = []
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const of = status[row] as number
      const place = of === Status.value ? STATUSES + (codes[row] as number) : of
      if (known[place] === 1) continue
      known[place] = 1
      fresh.push(place)
    }
    return fresh
  }

  #reserve(places: number): void {
    const former = this.#isKnown.length
    if (places <= former) return
    const length = Math.max(places, former * 2)
    const known = new Uint8Array(length)
    known.set(this.#isKnown)
    const results = makeVector(this.#results.kind, length)
    results.status.set(this.#results.status)
    if (results.kind === 'text') for (let at = 0; at < former; at++) results.values[at] = this.#results.values[at] as string
    else results.values.set(this.#results.values as never)
    this.#isKnown = known
    this.#results = results
  }

  /** Fills a vector with what stands at places, as if they were rows. */
  putTexts(places: readonly number[], { texts }: EncodedTexts, out: Vector): void {
    places.forEach((place, row) => {
      out.status[row] = place < STATUSES ? place : Status.value
      out.values[row] = place < STATUSES ? '' : (texts[place - STATUSES] as string)
    })
  }

  /** Keeps what was computed for places. */
  keep(places: readonly number[], result: Vector): void {
    const { status, values } = this.#results
    places.forEach((place, row) => {
      status[place] = result.status[row] as number
      values[place] = result.values[row] as never
    })
  }

  /** Writes the result of its text into each selected row. */
  spread({ codes, status }: EncodedTexts, selection: Selection, out: Vector): void {
    const from = this.#results
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const of = status[row] as number
      const place = of === Status.value ? STATUSES + (codes[row] as number) : of
      out.status[row] = from.status[place] as number
      out.values[row] = from.values[place] as never
    }
  }
}
