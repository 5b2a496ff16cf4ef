import type { Carried, FunctionFacts, SessionValue } from '@mellow-abacus/session'
import type { FilledTemplate } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText } from '../look/cell-text'

/** Functions of a purpose that are listed at once. */
const MOST = 12

/**
 * Functions by what they are for: sought in one's own words, or looked through family by family; a press puts one in. Words find
 * whole formulas as well, made of the columns at hand.
 */
export function FunctionsPart({
  table,
  onUse,
  onTake,
}: {
  table: string
  onUse: (call: string) => void
  onTake: (name: string, formula: string) => void
}) {
  const { session } = useDeskBook()
  const { facts } = useBookState()
  const [words, setWords] = useState('')
  const asked = words.trim()
  // Those of the workbook are among them.
  const own = facts.functions.map(({ form, note }) => [form, note])
  const { answer } = useAnswer(JSON.stringify(['functions', asked, own]), () => session.functions(asked))
  const found = answer ?? []
  const filled =
    useAnswer(asked === '' ? null : `formulas ${table} ${asked}`, () => session.formulasFor(table, asked)).answer ?? []
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
      {filled.length > 0 && <Filled found={filled} onTake={onTake} />}
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
      {asked !== '' && answer !== null && found.length === 0 && filled.length === 0 && (
        <p className="soft">No function answers to these words. Try others, such as “running total” or “first word”.</p>
      )}
    </details>
  )
}

/** Formulas that are filled in, with what they give in a few rows. */
function Filled({
  found,
  onTake,
}: {
  found: readonly Carried<FilledTemplate>[]
  onTake: (name: string, formula: string) => void
}) {
  return (
    <ul className="plain" aria-label="Formulas for this purpose">
      {found.map(({ formulas, explanation, preview }) => (
        <li key={Object.values(formulas).join()}>
          {Object.entries(formulas).map(([name, formula]) => (
            <button key={name} type="button" className="link" onClick={() => onTake(name, formula)}>
              <code>
                {printName(name)} = {formula}
              </code>
            </button>
          ))}
          <small>
            {explanation}{' '}
            {preview
              .map(({ rowNumber, values }) => `Row ${rowNumber}: ${Object.values(values).map(shown).join(', ')}.`)
              .join(' ')}
          </small>
        </li>
      ))}
    </ul>
  )
}

function shown(value: SessionValue): string {
  return cellText(value, { type: null }).text || 'blank'
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
