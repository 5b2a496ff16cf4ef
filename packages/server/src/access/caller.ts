import { hasRole, type ReaderOptions, type Role } from 'mellow-abacus'

/** Who asks, as found out from what they show. */
export interface Caller {
  /** Names the token, or the person, wherever something is kept by them. */
  readonly id: string
  /** Goes as author with all that they do. */
  readonly author: string
  /** Their role by workbook; `*` stands for all that are not named. */
  readonly roles: ReadonlyMap<string, Role>
  readonly groups: readonly string[]
  /** True for one who may look after the server itself. */
  readonly isOperator: boolean
  /** When what they showed is no longer good, in milliseconds since 1970. */
  readonly until: number
}

/** The role of a caller at a workbook; undefined where they may not come in. */
export function roleAt({ roles }: Caller, book: string): Role | undefined {
  return roles.get(book) ?? roles.get('*')
}

/** True for one who may make workbooks and remove them. */
export function mayMake({ roles }: Caller): boolean {
  const role = roles.get('*')
  return role !== undefined && hasRole(role, 'own')
}

/** A caller at a workbook as the library has readers. */
export function readerOf(caller: Caller, role: Role): ReaderOptions {
  return { role, groups: caller.groups, author: caller.author }
}
