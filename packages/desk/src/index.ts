/**
 * The page of the workbook, as it was built from `examples/desk`: a folder of files to be served, and what a browser is to let it do.
 * @module
 */
import { fileURLToPath } from 'node:url'

/** The folder of the page. Files under `assets` are named by what is in them; compressed ones stand beside all that gain by it. */
export const pageFolder: string = fileURLToPath(new URL('../page/', import.meta.url))

/**
 * What the page may do in a browser (W3C Content Security Policy): its own scripts and styles, none inside of it, and no text run
 * as a script; the loops over blocks are WebAssembly, which has a permission of its own. Text becomes the
 * address of a script by one policy alone (W3C Trusted Types), which takes those of the page itself.
 */
export const pagePolicy: string = [
  "default-src 'none'",
  "script-src 'self' 'wasm-unsafe-eval'",
  "worker-src 'self'",
  "style-src 'self'",
  "img-src 'self' data:",
  "connect-src 'self'",
  "base-uri 'none'",
  "form-action 'none'",
  "require-trusted-types-for 'script'",
  'trusted-types mellow-scripts',
].join('; ')
