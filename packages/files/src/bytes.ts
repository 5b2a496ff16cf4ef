/** Puts pieces of bytes together. */
export function joinBytes(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const joined = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.byteLength, 0))
  let at = 0
  for (const piece of pieces) {
    joined.set(piece, at)
    at += piece.byteLength
  }
  return joined
}

/** Signs that one call of the platform turns to text at a time. */
const PIECE = 1 << 15

/** Bytes in base 64 (RFC 4648, 4). */
export function base64(bytes: Uint8Array): string {
  let text = ''
  for (let at = 0; at < bytes.length; at += PIECE) text += String.fromCharCode(...bytes.subarray(at, at + PIECE))
  return btoa(text)
}
