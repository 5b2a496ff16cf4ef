/**
 * Loops over whole blocks in WebAssembly, sixteen rows a turn, and the memory they work on. In come addresses of vectors in
 * that memory, out go vectors and counts. Start reading at `block-code.ts`.
 * @module
 */
export { scratch } from './scratch.js'
