/**
 * Formulas from examples: a search over programs of the language. In come columns and wanted values in the rows of examples, out go
 * programs that give them, the smallest first. Start reading at `search.ts`, then `program.ts`.
 * @module
 */

export { Level, Program, type Sheet } from './program.js'
export { findPrograms } from './search.js'
export type { Source, Task } from './task.js'
export { isWanted, type Reading, readingsOf, type WantedValue } from './wanted.js'
export { Writer } from './writer.js'
