import type { TableFacts } from '@mellow-abacus/session'
import { useEffect } from 'react'
import type { Draft } from './draft'
import { type PreviewedDraft, useDraftPreview } from './use-draft-preview'

/** Asks, once for all of the page that shows it, what a draft would give; it comes with what takes definitions apart. */
export default function Previewer({
  table,
  draft,
  ids,
  onPreview,
}: {
  table: TableFacts
  draft: Draft
  /** The rows that are in sight. */
  ids: readonly number[]
  onPreview: (previewed: PreviewedDraft | null) => void
}) {
  const previewed = useDraftPreview(table, draft, ids)
  useEffect(() => onPreview(previewed), [previewed, onPreview])
  useEffect(() => () => onPreview(null), [onPreview])
  return null
}
