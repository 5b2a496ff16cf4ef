import type { LanguageSession, TableFacts } from '@mellow-abacus/session'
import type { Finding } from 'mellow-abacus'
import { useEffect, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import type { Draft } from './draft'
import { draftParts } from './draft-parts'

/** What a definition would give, on sample rows. */
type DraftPreview = Awaited<ReturnType<LanguageSession['preview']>>

/** Milliseconds after the last key before it is asked what a definition would give. */
const PAUSE_MS = 90

/** What a draft would give as it stands. */
export interface PreviewedDraft {
  readonly preview: DraftPreview | null
  readonly findings: readonly Finding[]
  /** True while what is told is about a text from before. */
  readonly isOld: boolean
}

/** Follows a draft: what it would give, and what is to be said of it. */
export function useDraftPreview(table: TableFacts, draft: Draft | null): PreviewedDraft {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const parts = draft === null ? null : draftParts(draft)
  const key = parts === null ? null : JSON.stringify([table.name, parts.name, parts.formula, revision])
  const [calmKey, setCalmKey] = useState(key)
  useEffect(() => {
    const timer = setTimeout(() => setCalmKey(key), PAUSE_MS)
    return () => clearTimeout(timer)
  }, [key])
  const { answer } = useAnswer(calmKey, async () => {
    const [, name, formula] = JSON.parse(calmKey ?? '[]') as [string, string, string]
    return { key: calmKey, preview: await session.language.preview(table.name, { name, formula }) }
  })
  if (parts === null || answer === null) return { preview: null, findings: [], isOld: parts !== null }
  return { preview: answer.preview, findings: answer.preview.findings as readonly Finding[], isOld: answer.key !== key }
}
