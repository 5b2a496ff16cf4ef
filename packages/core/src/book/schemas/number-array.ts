/** Arrays of numbers as programs hold them. */
export type NumberArray =
  | Float64Array
  | Float32Array
  | Int32Array
  | Uint32Array
  | Int16Array
  | Uint16Array
  | Int8Array
  | Uint8Array

/** True for a typed array of numbers. */
export function isNumberArray(values: unknown): values is NumberArray {
  return (
    ArrayBuffer.isView(values) &&
    !(values instanceof DataView) &&
    !(values instanceof BigInt64Array || values instanceof BigUint64Array)
  )
}
