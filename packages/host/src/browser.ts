/**
 * What `index.ts` gives, for browsers: workbooks in memory.
 * @module
 */
export { operationsPhrase } from './answers/operations-phrase.js'
export { BookHost } from './book-host.js'
export { type HeldBook, heldWorkbook, type KeptStep } from './held-book.js'
export { type NodePort, portOfNode, portOfWeb, type WebPort } from './ports/ports.js'
export { servePort } from './ports/serve-port.js'
export { openInWorker, serveWorker } from './ports/session-orders.js'
