import type { Role } from 'mellow-abacus'

/** Where someone is: a table, and the cell that they have picked. */
export interface Place {
  readonly table: string
  /** Id of the row. */
  readonly row?: number
  readonly column?: string
}

/** Someone at a workbook, as far as the one who is told may see. */
export interface Someone {
  /** Names them as long as they are there. */
  readonly id: string
  readonly author: string | null
  readonly role: Role
  /** Where they are; null where they do not say. */
  readonly place: Place | null
  /** What they are about to write; null where they do not say. */
  readonly draft: string | null
  /** True for the one who is told. */
  readonly isYou: boolean
}

/** What someone says of themselves to the others at a workbook. */
export interface Appearance {
  readonly place: Place | null
  readonly draft?: string | null
}
