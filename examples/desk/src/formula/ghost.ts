import type { ColumnFacts, SessionValue } from '@mellow-abacus/session'
import { type Look, lookOf } from '../look/cell-text'
import type { PreviewedDraft } from './use-draft-preview'

/** What the column of a draft is called within the grid; no column of a workbook can be called so. */
export const GHOST = '\u0000'

/** The column that a draft would be, as it is shown before it is one. */
export interface Ghost {
  readonly column: ColumnFacts
  readonly look: Look
  /** The column that it is shown after; null for the last one. */
  readonly after: string | null
  /** Names of the columns of its table that it reads. */
  readonly sources: readonly string[]
  /** Values by ids of rows, as far as they are known. */
  readonly values: ReadonlyMap<number, SessionValue>
}

/** The ghost of a draft; null while nothing can be told of it. */
export function ghostOf(previewed: PreviewedDraft | null): Ghost | null {
  if (previewed === null) return null
  const { draft, parts, preview, ids } = previewed
  const column: ColumnFacts = {
    name: GHOST,
    type: preview?.type ?? null,
    unit: preview?.unit ?? null,
    formula: parts?.formula ?? null,
    withheld: false,
    calculated: true,
    state: null,
    properties: { heading: parts?.name ?? 'draft' },
  }
  const values = new Map(ids.map((id, at) => [id, preview?.results[at] ?? null]))
  const sample = [...values.values()].map((value) => ({ [GHOST]: value }))
  const sources = Object.keys(preview?.rows[0]?.sources ?? {})
  return { column, look: lookOf(column, sample), after: draft.column ?? draft.after, sources, values }
}
