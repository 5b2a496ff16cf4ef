import { formatOfName, type ReadableFormat } from '@mellow-abacus/files'

/** The format of an input: said, or found from its name; CSV otherwise. */
export function formatOfInput(said: ReadableFormat | undefined, path: string): ReadableFormat {
  return said ?? formatOfName(path) ?? 'csv'
}
