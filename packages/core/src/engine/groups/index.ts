/**
 * Groups of rows: by the values of columns, by the row that links lead to; and links themselves, which are two tables grouped
 * by the same keys. In come changed keys, out go rows that moved. Start reading at `groups.ts`.
 * @module
 */
export { BLANK_KEY, Groups, NO_ROW } from './groups.js'
export { KeyGroups } from './key-groups.js'
export { KeySpace } from './key-space.js'
export { type LinkHop, LinkPath } from './link-path.js'
export { LinkWatch } from './link-watch.js'
export type { Members } from './members.js'
export { PathGroups } from './path-groups.js'
