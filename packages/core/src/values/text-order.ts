/**
 * Compares texts by code point, as the language orders them: negative, zero or positive.
 * JavaScript's own `<` goes by UTF-16 unit, which puts U+1F41D before U+FF21.
 */
export function compareText(left: string, right: string): number {
  if (left === right) return 0
  const length = Math.min(left.length, right.length)
  for (let at = 0; at < length; at++) {
    const a = left.charCodeAt(at)
    const b = right.charCodeAt(at)
    if (a !== b) return orderKey(a) - orderKey(b)
  }
  return left.length - right.length
}

/** Moves surrogates above all other units, where their code points belong. */
function orderKey(unit: number): number {
  if (unit < 0xd800) return unit
  return unit < 0xe000 ? unit + 0x2000 : unit - 0x800
}
