import type { TableFacts } from '@mellow-abacus/session'
import { useEffect } from 'react'
import type { Draft } from './draft'
import { useDraft } from './use-draft'
import { type PreviewedDraft, useDraftPreview } from './use-draft-preview'

interface PreviewerProps {
  readonly table: TableFacts
  /** The rows that are in sight. */
  readonly ids: readonly number[]
  readonly onPreview: (previewed: PreviewedDraft | null) => void
}

/** Asks, once for all of the page that shows it, what a draft would give; it comes with what takes definitions apart. */
export function Previewer(props: PreviewerProps) {
  const draft = useDraft(props.table.name)
  return draft === null ? null : <Previewed {...props} draft={draft} />
}

function Previewed({ table, draft, ids, onPreview }: PreviewerProps & { readonly draft: Draft }) {
  const previewed = useDraftPreview(table, draft, ids)
  useEffect(() => onPreview(previewed), [previewed, onPreview])
  useEffect(() => () => onPreview(null), [onPreview])
  return null
}
