import type { Cell } from '../../columns/index.js'
import { isWanted, type Program, type Reading } from '../../finder/index.js'
import { CellFault, type ValueType } from '../../values/index.js'
import type { Tried, TriedRows } from './tried-rows.js'

/** A formula with its values on the rows looked at, and how good a guess it is. */
export interface Ranked extends Tried {
  readonly cost: number
  readonly blanks: number
  readonly errors: number
}

/** A formula that is tried, and the way of understanding the examples that it was found for. */
interface Offer {
  readonly reading: Reading
  readonly text: string
  readonly size: number
}

/** What is found for one way of understanding the examples. */
export interface Found {
  readonly reading: Reading
  readonly programs: readonly Program[]
}

/** A text that begins or ends with space, or with a mark that stands between parts. */
const RAGGED = /^[\s,;:]|[\s,;:]$/
/** Most formulas that are run on all rows. */
const MOST_TRIED = 70
/** Most of these that are run on many rows. */
const MOST_TRIED_FURTHER = 16
/** Most that are given. */
const MOST_RANKED = 12
/** What is so much larger than the best is no likely answer. */
const FAR_BEHIND = 4
/** What a formula loses by blanks and by errors, if in all rows; by ends of texts that were cut wrongly; by being the same everywhere. */
const OF_BLANKS = 3
const OF_ERRORS = 8
const OF_RAGGED_ENDS = 1
const OF_SAMENESS = 1.5
/** What it loses by each column that was picked and is not used. */
const OF_UNUSED = 1.6

/** Puts formulas in order: small ones before large ones, whole ones before those with blanks and errors on other rows. */
export class Ranking {
  readonly #rows: TriedRows
  readonly #picked: readonly string[]

  /** @param picked - names of columns that were picked as sources, where they are few: what leaves one out is likely not meant */
  constructor(rows: TriedRows, picked: readonly string[]) {
    this.#rows = rows
    this.#picked = picked
  }

  /** Formulas that give what is wanted in all examples, each that gives something else once, the best first. */
  ranked(found: readonly Found[]): Ranked[] {
    const offers = found
      .flatMap(({ reading, programs }) => programs.map(({ text, cost }) => ({ reading, text, size: cost })))
      .sort((a, b) => a.size - b.size)
    const likely = this.#judge(offers.slice(0, MOST_TRIED), this.#rows.few)
    if (this.#rows.few.length === this.#rows.slots.length) return likely.slice(0, MOST_RANKED)
    return this.#judge(likely.slice(0, MOST_TRIED_FURTHER), this.#rows.slots).slice(0, MOST_RANKED)
  }

  /** Runs formulas on some rows, and puts them in order by what they give there. */
  #judge(offers: readonly Offer[], slots: readonly number[]): (Ranked & Offer)[] {
    const known = new Map<string, Ranked & Offer>()
    for (const { reading, text, size } of offers) {
      const tried = this.#rows.try(text, slots)
      if (tried === null || !isOfType(tried.type, reading.type) || !this.#fits(tried, reading)) continue
      const ranked = { ...judged(tried, size + OF_UNUSED * this.#unused(tried), slots), reading, size }
      const key = `${kindOf(tried.type)} ${slots.map((slot) => keyOf(tried.cells[slot] ?? null)).join('|')}`
      const before = known.get(key)
      if (before === undefined || ranked.cost < before.cost) known.set(key, ranked)
    }
    const sorted = [...known.values()].sort((a, b) => a.cost - b.cost || (a.text < b.text ? -1 : 1))
    const limit = (sorted[0]?.cost ?? 0) + FAR_BEHIND
    return sorted.filter(({ cost }) => cost <= limit)
  }

  #unused({ sources }: Tried): number {
    return this.#picked.filter((name) => !sources.has(name)).length
  }

  #fits({ cells }: Tried, reading: Reading): boolean {
    return this.#rows.examples.every((slot, at) => {
      const cell = cells[slot] ?? null
      return !(cell instanceof CellFault) && isWanted(reading, at, cell)
    })
  }
}

/** How good a guess a formula is, by its size and what it gives in some rows. */
function judged(tried: Tried, size: number, slots: readonly number[]): Ranked {
  let [blanks, errors, ragged] = [0, 0, 0]
  const different = new Set<Cell>()
  for (const slot of slots) {
    const cell = tried.cells[slot] ?? null
    if (cell === null) blanks++
    else if (cell instanceof CellFault) errors++
    else if (typeof cell === 'string' && RAGGED.test(cell)) ragged++
    if (different.size < 2) different.add(cell)
  }
  const rows = Math.max(1, slots.length)
  const isSame = different.size === 1 && rows > 1
  const once = (isSame ? OF_SAMENESS : 0) + (ragged > 0 && ragged < rows ? OF_RAGGED_ENDS : 0)
  const cost = size + (OF_BLANKS * blanks + OF_ERRORS * errors) / rows + once
  return { ...tried, cost, blanks, errors }
}

function kindOf(type: ValueType): ValueType {
  return type === 'integer' ? 'number' : type
}

function isOfType(type: ValueType, wanted: Reading['type']): boolean {
  return kindOf(type) === wanted
}

function keyOf(cell: Cell): string {
  if (cell instanceof CellFault) return `~${cell.code}`
  return typeof cell === 'number' ? String(Number(cell.toPrecision(12))) : `${cell}`
}
