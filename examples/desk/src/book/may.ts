import type { SessionReader } from '@mellow-abacus/session'

/** What the one at the page may do; what they may not is not there. */
export interface May {
  /** Rows and source cells. */
  readonly enter: boolean
  /** Undo, fill and what else edits of many cells are. */
  readonly edit: boolean
  /** Columns, links, tallies, rules, reports and charts. */
  readonly define: boolean
}

const ORDER: readonly SessionReader['role'][] = ['read', 'enter', 'edit', 'define', 'own']

/** What goes with a role: each has what those before it have. */
export function mayOf(role: SessionReader['role']): May {
  const has = (least: SessionReader['role']): boolean => ORDER.indexOf(role) >= ORDER.indexOf(least)
  return { enter: has('enter'), edit: has('edit'), define: has('define') }
}
