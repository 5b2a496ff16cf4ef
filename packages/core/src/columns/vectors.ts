import type { StorageKind } from '../values/index.js'

/** Rows of one block: the unit of storage, of evaluation and of dirty marking. Blocks stay in the processor's cache. */
export const BLOCK_ROWS = 4096

/** `slot >> BLOCK_SHIFT` is a slot's block, `slot & BLOCK_MASK` its row in the block. */
export const BLOCK_SHIFT = 12
export const BLOCK_MASK: number = BLOCK_ROWS - 1

interface VectorOf<Kind extends StorageKind, Values> {
  readonly kind: Kind
  /** One entry a row; what stands where `status` is not 0 is left over and means nothing. */
  readonly values: Values
  /** One status byte a row; its encoding stands at `Status`. */
  readonly status: Uint8Array
  /** True promises that every row last selected holds a value; false promises nothing. */
  clean: boolean
}

/**
 * Numbers, epoch days or epoch milliseconds. Blocks of columns that hold small whole numbers alone may be narrower than
 * binary64; whatever is computed is not.
 */
export type NumberValues = Float64Array | Int32Array | Int16Array | Int8Array
/** Numbers with their status. */
export type NumberVector = VectorOf<'number', NumberValues>
/** Texts. */
export type TextVector = VectorOf<'text', string[]>
/** Booleans: 1 is true, 0 is false. */
export type BooleanVector = VectorOf<'boolean', Uint8Array>

/** Values and status of up to BLOCK_ROWS rows: a block of a column, or what evaluating one gave. */
export type Vector = NumberVector | TextVector | BooleanVector

/** A vector of `rowCount` rows, all blank. */
export function makeVector(kind: StorageKind, rowCount: number): Vector {
  const status = new Uint8Array(rowCount).fill(1)
  if (kind === 'number') return { kind, values: new Float64Array(rowCount), status, clean: false }
  if (kind === 'boolean') return { kind, values: new Uint8Array(rowCount), status, clean: false }
  return { kind, values: new Array<string>(rowCount).fill(''), status, clean: false }
}

/** A copy of a vector with room for `rowCount` rows; the rows added are blank. */
export function resizeVector(vector: Vector, rowCount: number): Vector {
  const status = new Uint8Array(rowCount).fill(1)
  status.set(vector.status.subarray(0, rowCount))
  if (vector.kind === 'text') {
    const values = vector.values.slice(0, rowCount)
    while (values.length < rowCount) values.push('')
    return { kind: 'text', values, status, clean: false }
  }
  const kept = vector.values.subarray(0, rowCount)
  if (vector.kind === 'number') {
    const values = new (vector.values.constructor as new (length: number) => NumberValues)(rowCount)
    values.set(kept)
    return { kind: 'number', values, status, clean: false }
  }
  const values = new Uint8Array(rowCount)
  values.set(kept)
  return { kind: 'boolean', values, status, clean: false }
}
