import { Status } from '../values/index.js'
import type { NumberVector, Vector } from './vectors.js'

/** Counts and ends of the numbers of a column, for findings about data. Ends of no values are infinite, the wrong way round. */
export interface NumberStatistics {
  readonly values: number
  readonly zeros: number
  readonly lowest: number
  readonly highest: number
  /** Of the values that are not 0. */
  readonly lowestOther: number
  readonly highestOther: number
}

/** The statistics of no numbers. */
const NO_NUMBERS: NumberStatistics = {
  values: 0,
  zeros: 0,
  lowest: Number.POSITIVE_INFINITY,
  highest: Number.NEGATIVE_INFINITY,
  lowestOther: Number.POSITIVE_INFINITY,
  highestOther: Number.NEGATIVE_INFINITY,
}

/** The number in a row; null where there is none. */
export function numberAt(vector: NumberVector, row: number): number | null {
  return vector.status[row] === Status.value ? (vector.values[row] as number) : null
}

function statisticsOfBlock({ values, status }: NumberVector): NumberStatistics {
  let [count, zeros] = [0, 0]
  let { lowestOther, highestOther } = NO_NUMBERS
  for (let row = 0; row < status.length; row++) {
    if (status[row] !== Status.value) continue
    const value = values[row] as number
    count++
    if (value === 0) zeros++
    else {
      if (value < lowestOther) lowestOther = value
      if (value > highestOther) highestOther = value
    }
  }
  return withEnds(count, zeros, lowestOther, highestOther)
}

/** The statistics of so many values, some of them zero, of which the others have these ends. */
function withEnds(values: number, zeros: number, lowestOther: number, highestOther: number): NumberStatistics {
  const [lowest, highest] = zeros === 0 ? [lowestOther, highestOther] : [Math.min(lowestOther, 0), Math.max(highestOther, 0)]
  return { values, zeros, lowest, highest, lowestOther, highestOther }
}

function joinStatistics(left: NumberStatistics, right: NumberStatistics): NumberStatistics {
  return {
    values: left.values + right.values,
    zeros: left.zeros + right.zeros,
    lowest: Math.min(left.lowest, right.lowest),
    highest: Math.max(left.highest, right.highest),
    lowestOther: Math.min(left.lowestOther, right.lowestOther),
    highestOther: Math.max(left.highestOther, right.highestOther),
  }
}

/** The statistics after one cell has changed; null when an end may be gone, so that the numbers must be looked at again. */
function adjusted(statistics: NumberStatistics, before: number | null, after: number | null): NumberStatistics | null {
  if (
    before === statistics.lowest ||
    before === statistics.highest ||
    before === statistics.lowestOther ||
    before === statistics.highestOther
  )
    return null
  const { values, zeros } = statistics
  const rest = { ...statistics, values: values - Number(before !== null), zeros: zeros - Number(before === 0) }
  return after === null ? rest : joinStatistics(rest, statisticsOfOne(after))
}

function statisticsOfOne(value: number): NumberStatistics {
  const ends = { lowest: value, highest: value }
  if (value === 0) return { ...NO_NUMBERS, values: 1, zeros: 1, ...ends }
  return { values: 1, zeros: 0, ...ends, lowestOther: value, highestOther: value }
}

/** Of each block: how many values, how many zeros, the ends of the others if there are any; null where it is not known. */
export type StoredStatistics = readonly (readonly number[] | null)[]

/**
 * Statistics of the blocks of a column, and of the whole, kept while cells change: a change inside the ends costs nothing, one at
 * an end has its block looked at again when the statistics is next asked for.
 */
export class ColumnStatistics {
  readonly #blocks: (NumberStatistics | null)[] = []
  #total: NumberStatistics | null = null

  /** The statistics that a file kept. */
  static of(snapshot: StoredStatistics): ColumnStatistics {
    const statistics = new ColumnStatistics()
    for (const [index, block] of snapshot.entries()) {
      const [values = 0, zeros = 0, lowest = NO_NUMBERS.lowest, highest = NO_NUMBERS.highest] = block ?? []
      statistics.#blocks[index] = block === null ? null : withEnds(values, zeros, lowest, highest)
    }
    return statistics
  }

  /** What is known, as a file keeps it. */
  snapshot(): StoredStatistics {
    return Array.from(this.#blocks, (block) => {
      if (block == null) return null
      const { values, zeros, lowestOther, highestOther } = block
      return values === zeros ? [values, zeros] : [values, zeros, lowestOther, highestOther]
    })
  }

  /** A cell of a block changed from one number to another; null for a cell without a value. */
  change(block: number, before: number | null, after: number | null): void {
    const of = this.#blocks[block] ?? null
    this.#blocks[block] = of === null ? null : adjusted(of, before, after)
    this.#total = this.#total === null ? null : adjusted(this.#total, before, after)
  }

  /** A block must be looked at again. */
  forget(block: number): void {
    this.#blocks[block] = null
    this.#total = null
  }

  /** The statistics of so many blocks; a block is asked for only where its own statistics is not known. */
  total(count: number, blockAt: (index: number) => { readonly kind: string } | undefined): NumberStatistics {
    if (this.#total !== null) return this.#total
    let total = NO_NUMBERS
    for (let index = 0; index < count; index++) {
      const statistics = this.#blocks[index] ?? statisticsOf(blockAt(index) as Vector | undefined)
      this.#blocks[index] = statistics
      total = joinStatistics(total, statistics)
    }
    this.#total = total
    return total
  }
}

const statisticsOf = (block: Vector | undefined): NumberStatistics =>
  block?.kind === 'number' ? statisticsOfBlock(block) : NO_NUMBERS
