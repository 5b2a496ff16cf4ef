/**
 * Rows grouped by the values of columns or by the row that links lead to; a link is two tables grouped by the same keys.
 *
 * In come changed keys, out go rows that moved. Start reading at `groups.ts`.
 * @module
 */
export { BLANK_KEY, faultOfKey, isFaultyKey, NO_ROW, statusOfGroup } from './group-number.js'
export { Groups } from './groups.js'
export { KeyDictionary } from './key-dictionary.js'
export { KeyGroups } from './key-groups.js'
export { type LinkHop, LinkPath } from './link-path.js'
export { LinkWatch } from './link-watch.js'
export { Members } from './members.js'
export { NestedGroups } from './nested-groups.js'
export { PathGroups } from './path-groups.js'
