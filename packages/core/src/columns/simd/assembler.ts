/**
 * Just enough of an assembler for WebAssembly with 128-bit vectors to write block loops as nested calls. Source: W3C
 * WebAssembly Core Specification 2.0, sections 5.3 to 5.5 (binary format).
 */

/** Instructions in the binary format. An expression leaves one value on the stack, a statement none. */
export type Code = readonly number[]

/** A function of 32-bit integers that gives one; what it uses besides its parameters are locals of 32 bits, then of 128. */
export interface FunctionCode {
  readonly name: string
  readonly parameters: number
  readonly integers: number
  readonly vectors: number
  readonly body: Code
}

/** An unsigned number in LEB128. */
function unsigned(value: number): number[] {
  const bytes = []
  for (let rest = value; ; rest >>>= 7) {
    if (rest < 0x80) return [...bytes, rest]
    bytes.push((rest & 0x7f) | 0x80)
  }
}

/** A signed number of 32 bits in LEB128. */
function signed(value: number): number[] {
  const bytes = []
  for (let rest = value; ; rest >>= 7) {
    const low = rest & 0x7f
    const isLast = rest >> 6 === 0 || rest >> 6 === -1
    if (isLast) return [...bytes, low]
    bytes.push(low | 0x80)
  }
}

const plain =
  (opcode: number) =>
  (...operands: readonly Code[]): Code => [...operands.flat(), opcode]

const wide =
  (opcode: number) =>
  (...operands: readonly Code[]): Code => [...operands.flat(), 0xfd, ...unsigned(opcode)]

/** Access to memory: alignment is only a hint, and 0 promises none. */
const at = (offset: number): number[] => [0, ...unsigned(offset)]

/** A local variable by its number; parameters are the first ones. */
export const local = {
  get: (index: number): Code => [0x20, ...unsigned(index)],
  set: (index: number, value: Code): Code => [...value, 0x21, ...unsigned(index)],
} as const

/** 32-bit integers. */
export const i32 = {
  const: (value: number): Code => [0x41, ...signed(value)],
  lessThan: plain(0x49),
  countZeros: plain(0x68),
  add: plain(0x6a),
  subtract: plain(0x6b),
  and: plain(0x71),
  or: plain(0x72),
  shiftLeft: plain(0x74),
  isZero: plain(0x45),
  countOnes: plain(0x69),
  store16: (address: Code, value: Code): Code => [...address, ...value, 0x3b, ...at(0)],
} as const

/** 128 bits as a whole. */
export const v128 = {
  load: (address: Code, offset: number): Code => [...address, 0xfd, 0x00, ...at(offset)],
  store: (address: Code, value: Code, offset: number): Code => [...address, ...value, 0xfd, 0x0b, ...at(offset)],
  /** Bytes of `yes` where the bits of `mask` are set, of `no` elsewhere. */
  choose: (yes: Code, no: Code, mask: Code): Code => wide(0x52)(yes, no, mask),
  not: wide(0x4d),
  and: wide(0x4e),
  /** Bits of the first that are not in the second. */
  without: wide(0x4f),
  or: wide(0x50),
  isAnySet: wide(0x53),
} as const

/** Sixteen bytes; a comparison gives bytes of 255 or 0. */
export const i8x16 = {
  splat: wide(0x0f),
  equal: wide(0x23),
  greaterUnsigned: wide(0x28),
  bitmask: wide(0x64),
  narrow: wide(0x65),
  maxUnsigned: wide(0x79),
  /** Picks bytes 0 to 15 of the first operand and 16 to 31 of the second. */
  shuffle: (first: Code, second: Code, bytes: readonly number[]): Code => [...first, ...second, 0xfd, 0x0d, ...bytes],
} as const

/** Masks between widths: halves made wider with their sign, pairs made narrower. */
export const lanes = {
  narrowToHalves: wide(0x85),
  lowBytes: wide(0x87),
  highBytes: wide(0x88),
  lowHalves: wide(0xa7),
  highHalves: wide(0xa8),
  lowWords: wide(0xc7),
  highWords: wide(0xc8),
} as const

/** Two numbers of binary64; a comparison gives lanes of ones or zeros. */
export const f64x2 = {
  splat: (value: number): Code => [0x44, ...new Uint8Array(Float64Array.of(value).buffer), 0xfd, 0x14],
  equal: wide(0x47),
  unequal: wide(0x48),
  less: wide(0x49),
  greater: wide(0x4a),
  lessEqual: wide(0x4b),
  greaterEqual: wide(0x4c),
  add: wide(0xf0),
  subtract: wide(0xf1),
  multiply: wide(0xf2),
  divide: wide(0xf3),
} as const

/** Repeats a body while a condition holds, at least once. */
export function repeatWhile(condition: Code, ...body: readonly Code[]): Code {
  return [0x03, 0x40, ...body.flat(), ...condition, 0x0d, 0x00, 0x0b]
}

/** Runs a body if a condition holds. */
export function onlyIf(condition: Code, ...body: readonly Code[]): Code {
  return [...condition, 0x04, 0x40, ...body.flat(), 0x0b]
}

const I32 = 0x7f
const V128 = 0x7b

/** A module of such functions over the memory that is imported as `blocks.memory`, `pages` pages of 64 KiB. */
export function assembleModule(functions: readonly FunctionCode[], pages: number): Uint8Array<ArrayBuffer> {
  const text = (value: string): number[] => [value.length, ...[...value].map((sign) => sign.charCodeAt(0))]
  const list = (items: readonly (readonly number[])[]): number[] => [...unsigned(items.length), ...items.flat()]
  const section = (id: number, content: readonly number[]): number[] => [id, ...unsigned(content.length), ...content]
  const body = ({ integers, vectors, body: code }: FunctionCode): number[] => {
    const locals = list([
      [...unsigned(integers), I32],
      [...unsigned(vectors), V128],
    ])
    const content = [...locals, ...code, 0x0b]
    return [...unsigned(content.length), ...content]
  }
  const index = (_: FunctionCode, at: number): number[] => unsigned(at)
  return Uint8Array.from([
    ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
    ...section(
      1,
      list(functions.map(({ parameters }) => [0x60, ...list(Array.from({ length: parameters }, () => [I32])), 1, I32])),
    ),
    ...section(2, list([[...text('blocks'), ...text('memory'), 0x02, 0x01, ...unsigned(pages), ...unsigned(pages)]])),
    ...section(3, list(functions.map(index))),
    ...section(7, list(functions.map(({ name }, at) => [...text(name), 0x00, ...unsigned(at)]))),
    ...section(10, list(functions.map(body))),
  ])
}
