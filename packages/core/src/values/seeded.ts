/**
 * A number in [0, 1) that depends on nothing but its four keys: the same seed, column, call and row give the same number on
 * every machine and after every edit. Mixing is the finaliser of MurmurHash3 (Appleby, public domain) over 32-bit words,
 * twice with different starts, for 53 bits.
 */
export function seededUniform(seed: number, column: number, call: number, row: number): number {
  const low = mixAll(0x9e3779b9, seed, column, call, row)
  const high = mixAll(0x7f4a7c15, seed, column, call, row)
  return ((high >>> 5) * 2 ** 26 + (low >>> 6)) / 2 ** 53
}

function mixAll(start: number, seed: number, column: number, call: number, row: number): number {
  let hash = mix(start ^ seed)
  hash = mix(hash ^ Math.floor(seed / 2 ** 32))
  hash = mix(hash + column)
  hash = mix(hash ^ call)
  hash = mix(hash + row)
  return mix(hash ^ Math.floor(row / 2 ** 32))
}

function mix(word: number): number {
  let hash = word | 0
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return hash ^ (hash >>> 16)
}
