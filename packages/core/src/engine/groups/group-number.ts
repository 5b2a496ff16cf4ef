import { CellFault, faultOfStatus, Status } from '../../values/index.js'

// Groups are numbered from 0. A row that is in none has a negative number in place of one, which says why: the status byte of
// its key, negated (blank is 1, errors follow), or NO_ROW where there is no row at all. Links use the same for where they lead.

/** In place of a group: the key is blank. */
export const BLANK_KEY: number = -Status.blank
/** In place of a group: no row is there. It is the negative of no status byte. */
export const NO_ROW = -1000

/** What stands in place of a group for a key with this status byte. */
export function groupOfStatus(status: number): number {
  return -status
}

/** The status byte that a number in place of a group stands for. */
export function statusOfGroup(group: number): number {
  return -group
}

/** True where the key is an error. */
export function isFaultyKey(group: number): boolean {
  return group < BLANK_KEY && group !== NO_ROW
}

/** The error of the key, for a row whose key is one. */
export function faultOfKey(group: number): CellFault {
  return new CellFault(faultOfStatus(statusOfGroup(group)))
}
