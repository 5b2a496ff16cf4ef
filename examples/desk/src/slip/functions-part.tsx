import type { FunctionFacts } from '@mellow-abacus/session'
import { useState } from 'react'
import { useAnswer, useDeskBook } from '../book/use-book'

/** Functions of a purpose that are listed at once. */
const MOST = 12

/** Functions by what they are for: sought in one's own words, or looked through family by family; a press puts one in. */
export function FunctionsPart({ onUse }: { onUse: (call: string) => void }) {
  const { session } = useDeskBook()
  const [words, setWords] = useState('')
  const asked = words.trim()
  const { answer } = useAnswer(`functions ${asked}`, () => session.functions(asked))
  const found = answer ?? []
  return (
    <details className="functions">
      <summary>Functions by what they are for</summary>
      <input
        type="search"
        aria-label="What is it to do?"
        placeholder="split a name, days between, share…"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {asked === '' ? (
        [...new Set(found.map(({ family }) => family))].map((family) => (
          <details key={family}>
            <summary>{family}</summary>
            <List found={found.filter((one) => one.family === family)} onUse={onUse} />
          </details>
        ))
      ) : (
        <List found={found.slice(0, MOST)} onUse={onUse} />
      )}
      {asked !== '' && answer !== null && found.length === 0 && (
        <p className="soft">No function answers to these words. Try others, such as “running total” or “first word”.</p>
      )}
    </details>
  )
}

function List({ found, onUse }: { found: readonly FunctionFacts[]; onUse: (call: string) => void }) {
  return (
    <ul className="plain">
      {found.map(({ name, form, says, example }) => (
        <li key={name}>
          <button
            type="button"
            className="link"
            onClick={() => onUse(name)}
            title={example === null ? says : `such as ${example}`}
          >
            {form}
          </button>
          <small>{says}</small>
        </li>
      ))}
    </ul>
  )
}
