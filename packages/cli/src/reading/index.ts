/**
 * What command lines and files say, read into values: definitions, names, reading options, tables; and databases by their address.
 * @module
 */

export { columnOf } from './column-text.js'
export { openAddress } from './database.js'
export {
  type DefinitionFault,
  definitionsFrom,
  functionOf,
  type GivenDefinition,
  givenDefinitions,
  givenLinks,
  optionDefinitions,
} from './definitions.js'
export { type GivenView, givenView } from './grouped-view.js'
export { formatOfInput } from './input-format.js'
export { furtherTable, loadFile, tableNameOf, typesOf } from './load.js'
export { columnType, surroundings, wholeNumber } from './reading-options.js'
export { cellReading, fileSource, mergedReading, readingSource, readingText } from './reading-source.js'
