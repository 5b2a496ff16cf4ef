/**
 * What every command line needs and a mere --help loads: streams, colours, help, exit codes. It knows nothing of workbooks.
 * @module
 */

export { forEyes } from './foreign-text.js'
export { addHelp, inOwnWords } from './help.js'
export { type Io, processIo } from './io.js'
export { nearestName } from './nearest.js'
export { makePaint, type Paint } from './paint.js'
export { readReason } from './read-reason.js'
export { shellWord } from './shell-word.js'
export { CommandRefusal, ExitCode, UsageFault } from './usage.js'
