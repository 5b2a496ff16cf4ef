import type { LanguageSession, TableFacts } from '@mellow-abacus/session'
import type { Finding } from 'mellow-abacus'
import { useEffect, useMemo, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import type { Draft } from './draft'
import { type DraftParts, draftParts } from './draft-parts'

/** What a definition would give, on sample rows and in the rows in sight. */
type DraftPreview = Awaited<ReturnType<LanguageSession['preview']>>

/** Milliseconds after the last key before it is asked what a definition would give. */
const PAUSE_MS = 90

/** What a draft would give as it stands. */
export interface PreviewedDraft {
  readonly draft: Draft
  readonly parts: DraftParts | null
  readonly preview: DraftPreview | null
  readonly findings: readonly Finding[]
  /** Ids of the rows that `preview.results` is about. */
  readonly ids: readonly number[]
  /** True while what is told is about a text from before. */
  readonly isOld: boolean
}

/** What is asked of a definition: its name and formula, the revision, and the rows that are in sight. */
interface Question {
  readonly text: string
  readonly name: string
  readonly formula: string
  readonly ids: readonly number[]
}

/** Follows a draft: what it would give, and what is to be said of it. */
export function useDraftPreview(table: TableFacts, draft: Draft, ids: readonly number[]): PreviewedDraft {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const parts = useMemo(() => draftParts(draft), [draft])
  const text = parts === null ? null : JSON.stringify([table.name, parts.name, parts.formula, revision])
  const wanted = useMemo<Question | null>(
    () => (parts === null || text === null ? null : { text, name: parts.name, formula: parts.formula, ids }),
    [parts, text, ids],
  )
  const [calm, setCalm] = useState(wanted)
  useEffect(() => {
    const timer = setTimeout(() => setCalm(wanted), PAUSE_MS)
    return () => clearTimeout(timer)
  }, [wanted])
  const { answer } = useAnswer(calm === null ? null : `${calm.text} ${calm.ids[0]} ${calm.ids.at(-1)}`, async () => {
    const asked = calm as Question
    return { asked, preview: await session.language.preview(table.name, asked) }
  })
  return useMemo(() => {
    if (parts === null || answer === null) return { draft, parts, preview: null, findings: [], ids: [], isOld: parts !== null }
    const { asked, preview } = answer
    return { draft, parts, preview, findings: preview.findings as readonly Finding[], ids: asked.ids, isOld: asked.text !== text }
  }, [draft, parts, answer, text])
}
