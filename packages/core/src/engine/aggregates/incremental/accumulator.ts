import { BLOCK_SHIFT, type Cell, type Selection, type Vector } from '../../../columns/index.js'
import type { FunctionRecord } from '../../../functions/index.js'
import { CellFault, faultOfStatus, Status, type ValueType } from '../../../values/index.js'
import type { TableStore } from '../../storage/index.js'
import { cellAt, compareKeys } from '../../storage/index.js'
import { GroupSums } from './group-sums.js'

/** An aggregate, told apart from where its rows come from. */
export interface AggregateCall {
  readonly record: FunctionRecord & { readonly form: 'aggregate' }
  /** Types of the arguments. */
  readonly types: readonly ValueType[]
  /** Directions of the keys of `order by`. */
  readonly descending: readonly boolean[]
}

/** True when the order of the rows can make a difference to the result. */
export function mindsOrder({ record, types, descending }: AggregateCall): boolean {
  return descending.length > 0 || record.mindsErrors === true || types.length > 1
}

/** The aggregates that sums and counts are enough for. */
const SUMMED: ReadonlySet<string> = new Set(['sum', 'mean', 'count'])

/** True for aggregates that follow from the sum and the count of their values. */
export function isSummed({ record, types, descending }: AggregateCall): boolean {
  return SUMMED.has(record.name) && types.length <= 1 && descending.length === 0
}

/** What a summed aggregate gives for a group without errors. */
export function summedResult({ record }: AggregateCall, sums: GroupSums, group: number): Cell {
  const count = sums.countOf(group)
  if (record.name === 'count') return count
  if (count === 0) return null
  const result = record.name === 'sum' ? sums.sumOf(group) : sums.meanOf(group)
  return Number.isFinite(result) ? result : new CellFault('out-of-range')
}

/** Takes in the rows of one aggregate, block by block, and gives its result: values as sums where that is enough. */
export class Accumulator {
  readonly #call: AggregateCall
  readonly #isSummed: boolean
  readonly #sums: GroupSums = new GroupSums()
  readonly #args: Cell[][]
  readonly #keys: Cell[][]
  readonly #places: number[] = []
  #count = 0
  /** The error named first of those found so far, as a status byte; 0 for none. */
  #fault = 0

  constructor(call: AggregateCall) {
    this.#call = call
    this.#isSummed = isSummed(call)
    this.#args = call.types.map(() => [])
    this.#keys = call.descending.map(() => [])
  }

  /** Begins anew. */
  clear(): void {
    this.#sums.clearGroup(0)
    for (const list of [...this.#args, ...this.#keys, this.#places]) list.length = 0
    this.#count = 0
    this.#fault = 0
  }

  /** Notes an error that the result is, unless one named before it is found; status bytes are in the order of FAULT_CODES. */
  noteFault(status: number): void {
    if (status > Status.blank && (this.#fault === 0 || status < this.#fault)) this.#fault = status
  }

  /** Those of some rows of a block for which a condition is true; notes its errors. */
  holding({ rows, count }: Selection, condition: Vector): Selection {
    const kept = new Uint16Array(count)
    let found = 0
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const status = condition.status[row] as number
      // A row is listed always and counted only where it holds, so the loop seldom branches.
      kept[found] = row
      found += Number(status === Status.value) & Number(condition.values[row] === 1)
      if (status > Status.blank) this.noteFault(status)
    }
    return found === count ? { rows, count } : { rows: kept, count: found }
  }

  /**
   * Takes rows of a block in.
   *
   * @param args - vectors of the arguments there
   * @param keys - vectors of the keys of the order there
   */
  takeBlock(store: TableStore, block: number, rows: Selection, args: readonly Vector[], keys: readonly Vector[]): void {
    this.#count += rows.count
    if (this.#isSummed) return this.#sum(rows, args[0])
    const first = block << BLOCK_SHIFT
    for (const [index, vector] of args.entries()) this.#list(rows, vector, this.#args[index] as Cell[], this.#mindsFaults)
    for (const [index, vector] of keys.entries()) this.#list(rows, vector, this.#keys[index] as Cell[], args.length > 0)
    if (!mindsOrder(this.#call)) return
    for (let k = 0; k < rows.count; k++)
      this.#places.push(store.rows.placeOf(first + (rows.rows === null ? k : (rows.rows[k] as number))))
  }

  get #mindsFaults(): boolean {
    return this.#call.record.mindsErrors !== true
  }

  #sum({ rows, count }: Selection, values: Vector | undefined): void {
    const sums = this.#sums
    const { name } = this.#call.record
    if (values === undefined) return sums.count(0, count)
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const status = values.status[row] as number
      if (status > Status.blank) this.noteFault(status)
      else if (status === Status.value) {
        if (name === 'count') sums.count(0, 1)
        else sums.add(0, values.values[row] as number, 1)
      }
    }
  }

  #list({ rows, count }: Selection, vector: Vector, into: Cell[], mindsFaults: boolean): void {
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const cell = cellAt(vector, row)
      if (mindsFaults && cell instanceof CellFault) this.noteFault(vector.status[row] as number)
      into.push(cell)
    }
  }

  /** What the aggregate gives over the rows taken in. */
  result(): Cell {
    if (this.#fault !== 0) return new CellFault(faultOfStatus(this.#fault))
    if (this.#isSummed) return summedResult(this.#call, this.#sums, 0)
    const { record, types, descending } = this.#call
    const result = record.gather({ args: this.#inOrder(descending), types, count: this.#count })
    return result instanceof CellFault ? new CellFault(result.code) : result
  }

  #inOrder(descending: readonly boolean[]): Cell[][] {
    const places = this.#places
    if (!mindsOrder(this.#call)) return this.#args
    const keys = this.#keys
    const keysOf = keys.length === 0 ? null : places.map((_, index) => keys.map((list) => list[index] as Cell))
    const order = Uint32Array.from(places, (_, index) => index).sort((a, b) => {
      const byKeys = keysOf === null ? 0 : compareKeys(keysOf[a] as Cell[], keysOf[b] as Cell[], descending)
      return byKeys || (places[a] as number) - (places[b] as number)
    })
    return this.#args.map((list) => Array.from(order, (index) => list[index] as Cell))
  }
}
