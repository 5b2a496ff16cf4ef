/**
 * The verbs of the tool: one folder a family, each loaded when one of its verbs is used. A family reaches into no other.
 *
 * In comes a command line, out goes an exit code. Start reading at `list.ts`, then any family.
 * @module
 */
export { VERBS } from './list.js'
export { STEPS } from './verb.js'
