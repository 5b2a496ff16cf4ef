import type { Program, Sheet } from './program.js'
import { type Task, textsOn } from './task.js'

/** What a way to a text was put together from: pieces and constant texts. */
interface Way {
  readonly pieces: readonly Program[]
  readonly cost: number
  /** How far the wanted text of each example is written. */
  readonly places: readonly number[]
}

/** Most ways that are followed from the same place. */
const WAYS_FROM_A_PLACE = 5
/** Most pieces of one text. */
const MOST_PIECES = 8
/** Most ways that are looked at: with more, the rest would be larger than anyone wants. */
const MOST_WAYS = 4000
const COST_OF_JOIN = 0.4

/**
 * Ways to write wanted texts as pieces put together with constant texts, the smallest first. All examples are written at once:
 * a way is a path through the product of the graphs of Gulwani ("Automating String Processing in Spreadsheets Using
 * Input-Output Examples", POPL 2011), walked in order of size (Dijkstra 1959), each place a few times.
 *
 * @param wanted - the text of each example
 * @param most - how many ways are wanted
 */
export function joinedTexts(task: Task, pieces: readonly Program[], wanted: readonly string[], most: number): Program[] {
  const { writer, examples } = task
  const known = pieces
    .map((program) => ({ program, texts: textsOn(program, examples) }))
    .filter((piece): piece is { program: Program; texts: string[] } => piece.texts !== null)
  const costOf = costsOfConstants(task, wanted)
  const queue = new CostQueue<Way>()
  queue.put({ pieces: [], cost: 0, places: wanted.map(() => 0) })
  const visits = new Map<string, number>()
  const found: Program[] = []
  for (let looked = 0; looked < MOST_WAYS && found.length < most; looked++) {
    const way = queue.take()
    if (way === undefined) break
    if (way.places.every((place, at) => place === (wanted[at] as string).length)) {
      if (isTelling(way.pieces, wanted, examples)) found.push(writer.join(way.pieces))
      continue
    }
    const key = way.places.join()
    const visited = visits.get(key) ?? 0
    if (visited >= WAYS_FROM_A_PLACE || way.pieces.length >= MOST_PIECES) continue
    visits.set(key, visited + 1)
    const go = (program: Program, texts: readonly string[]): void => {
      const joins = way.pieces.length === 0 ? 0 : COST_OF_JOIN
      const places = way.places.map((place, at) => place + (texts[at] as string).length)
      queue.put({ pieces: [...way.pieces, program], cost: way.cost + program.cost + joins, places })
    }
    for (const { program, texts } of known)
      if (texts.every((text, at) => (wanted[at] as string).startsWith(text, way.places[at]))) go(program, texts)
    // A constant text is what all examples have in common from here; two in a row are one.
    const last = way.pieces.at(-1)
    if (last !== undefined && isConstant(last)) continue
    const common = commonFrom(wanted, way.places)
    for (let length = 1; length <= common.length; length++) {
      const text = common.slice(0, length)
      go(
        writer.constant(text).at(costOf(text)),
        wanted.map(() => text),
      )
    }
  }
  return found
}

/**
 * What constant texts add to a program. Marks are cheap. Letters and digits that different examples share are likely meant, unless
 * they stand in the columns as well: then they are likely taken from there.
 */
function costsOfConstants({ sources, examples }: Task, wanted: readonly string[]): (text: string) => number {
  const isShared = new Set(wanted).size > 1
  const seen = sources.map(({ program }) => {
    const { status, values } = program.on(examples)
    return Array.from(wanted, (_, row) => (status[row] === 0 ? String(values[row]).toLowerCase() : ''))
  })
  return (text) => {
    let cost = 0.8
    for (const run of text.match(/\p{L}+|\p{N}+|[^\p{L}\p{N}]+/gu) ?? []) {
      const isMark = !/[\p{L}\p{N}]/u.test(run)
      const isTaken = !isMark && seen.some((texts) => texts.every((own) => own.includes(run.toLowerCase())))
      cost += run.length * (isMark ? 0.1 : isTaken ? 2 : isShared ? 0.3 : 1)
    }
    return cost
  }
}

/**
 * True when enough of the wanted text comes from columns: a third of its letters and digits, or, where different examples have the
 * rest in common, anything.
 */
function isTelling(pieces: readonly Program[], wanted: readonly string[], examples: Sheet): boolean {
  const isShared = new Set(wanted).size > 1
  const [first = ''] = wanted
  const taken = pieces.filter((piece) => !isConstant(piece)).map((piece) => textsOn(piece, examples)?.[0] ?? '')
  if (taken.length === 0 || isShared) return taken.length > 0
  return 3 * signsIn(taken.join('')) >= signsIn(first)
}

function signsIn(text: string): number {
  return text.match(/[\p{L}\p{N}]/gu)?.length ?? 0
}

function isConstant({ text }: Program): boolean {
  return text.startsWith("'")
}

/** The text that all examples go on with from their places. */
function commonFrom(wanted: readonly string[], places: readonly number[]): string {
  const rests = wanted.map((text, at) => text.slice(places[at]))
  const [first = ''] = rests
  let length = first.length
  for (const rest of rests) while (!rest.startsWith(first.slice(0, length))) length--
  return first.slice(0, length)
}

/** A queue that gives the cheapest first: a binary heap (Williams 1964); of equally cheap ones the one that came first. */
class CostQueue<Item extends { readonly cost: number }> {
  readonly #heap: { item: Item; order: number }[] = []
  #count = 0

  put(item: Item): void {
    const heap = this.#heap
    const entry = { item, order: this.#count++ }
    let at = heap.length
    heap.push(entry)
    while (at > 0) {
      const up = (at - 1) >> 1
      if (!isBefore(entry, heap[up] as typeof entry)) break
      heap[at] = heap[up] as typeof entry
      at = up
    }
    heap[at] = entry
  }

  take(): Item | undefined {
    const heap = this.#heap
    const top = heap[0]
    const last = heap.pop()
    if (top === undefined || last === undefined || heap.length === 0) return top?.item
    let at = 0
    for (;;) {
      let down = 2 * at + 1
      if (down >= heap.length) break
      if (down + 1 < heap.length && isBefore(heap[down + 1] as typeof last, heap[down] as typeof last)) down++
      if (!isBefore(heap[down] as typeof last, last)) break
      heap[at] = heap[down] as typeof last
      at = down
    }
    heap[at] = last
    return top.item
  }
}

function isBefore(one: { item: { cost: number }; order: number }, other: typeof one): boolean {
  return one.item.cost < other.item.cost || (one.item.cost === other.item.cost && one.order < other.order)
}
