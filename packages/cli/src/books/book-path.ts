import { existsSync } from 'node:fs'

/** The file of a workbook; `.mellow` may be left off. */
export function bookPath(name: string): string {
  return name.endsWith('.mellow') || existsSync(name) ? name : `${name}.mellow`
}
