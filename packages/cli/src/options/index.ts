/**
 * Options that several verbs share, declared once.
 * @module
 */
export { addChangeOptions, addLookOptions, type ChangeArguments, collect, collectList } from './change-options.js'
export { addReadingOptions, addSurroundingOptions, type ReadingArguments, type SurroundingArguments } from './declared-options.js'
export { DRAWING_FORMATS } from './drawing-formats.js'
export { addViewOptions, type PlacedText, type ViewArguments } from './view-options.js'
