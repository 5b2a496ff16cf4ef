import { isAbsolute, relative } from 'node:path'

/** A path as its reader would type it: what lies in the folder of the command line is told from there. */
export function shownPath(path: string): string {
  if (!isAbsolute(path)) return path
  const fromHere = relative('', path)
  return fromHere === '' || fromHere.startsWith('..') || isAbsolute(fromHere) ? path : fromHere
}
