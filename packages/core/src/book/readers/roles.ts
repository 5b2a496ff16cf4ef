import type { Operation } from '../schemas/index.js'

/** What a reader may do, each with all before it. */
export const ROLES = ['read', 'enter', 'edit', 'define', 'own'] as const

/**
 * What a reader may do, each with all before it: look · type rows and source cells · fill columns, read sources again and take
 * back own steps · define columns, links, tallies, rules, reports and charts · say what is hidden and from whom, remove tables.
 */
export type Role = (typeof ROLES)[number]

/** True when a role has all that another one has. */
export function hasRole(role: Role, least: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(least)
}

/** The least role that each operation takes. */
export const LEAST_ROLES: Readonly<Record<Operation['op'], Role>> = {
  'insert-rows': 'enter',
  'remove-rows': 'enter',
  'move-rows': 'enter',
  'set-cells': 'enter',
  'fill-column': 'edit',
  'reread-rows': 'edit',
  recalculate: 'edit',
  'add-table': 'define',
  'change-table': 'define',
  'rename-table': 'define',
  'add-column': 'define',
  'change-column': 'define',
  'rename-column': 'define',
  'remove-column': 'define',
  'move-column': 'define',
  'detach-column': 'define',
  'pause-column': 'define',
  'resume-column': 'define',
  'add-link': 'define',
  'remove-link': 'define',
  'set-value': 'define',
  'remove-value': 'define',
  'set-tally': 'define',
  'remove-tally': 'define',
  'set-function': 'define',
  'remove-function': 'define',
  'rename-function': 'define',
  'set-rule': 'define',
  'remove-rule': 'define',
  'set-stamp': 'define',
  'stamp-cells': 'own',
  'accept-finding': 'define',
  'withdraw-acceptance': 'define',
  'set-report': 'define',
  'remove-report': 'define',
  'set-chart': 'define',
  'remove-chart': 'define',
  'set-mode': 'define',
  tick: 'define',
  'set-metadata': 'define',
  'set-surroundings': 'own',
  'remove-table': 'own',
}

/** The least role that an operation takes as it stands: hiding takes `own`, whatever it comes with. */
export function leastRoleOf(operation: Operation): Role {
  const specs =
    operation.op === 'add-table'
      ? (operation.columns ?? [])
      : operation.op === 'add-column'
        ? [operation.column]
        : operation.op === 'change-column'
          ? [operation.set]
          : []
  return specs.some(({ hiddenFrom }) => hiddenFrom !== undefined) ? 'own' : LEAST_ROLES[operation.op]
}
