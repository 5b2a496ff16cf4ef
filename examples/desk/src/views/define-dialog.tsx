import type { SessionValue } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { countedOf, fullText } from '../look/cell-text'
import { FormDialog } from './form-dialog'

/** What is defined beside columns: a tally or a rule of a table, a named value or a function of the workbook. */
export interface Defined {
  readonly kind: 'tally' | 'rule' | 'value' | 'function'
  /** The table of a tally or a rule. */
  readonly table: string
  readonly name: string
  /** The condition of a rule. */
  readonly formula: string
  readonly note?: string
  /** What a function is given, as it is written. */
  readonly parameters?: readonly string[]
}

const TITLES = { tally: 'Tally', rule: 'Rule', value: 'Named value', function: 'Function' } as const
const HINTS = {
  tally: ['total_kg', 'sum(honey_kg)', 'One value over all rows of the table; it stands in totals, reports and formulas.'],
  rule: [
    'counted',
    'mites <= bees_sampled',
    'What is to be true of every row. Rows where it is not are findings, at every edit.',
  ],
  function: [
    'per_hundred',
    '100 * part per whole',
    'Formulas of every table may call it. It may name what it is given, other functions and named values.',
  ],
  value: ['honey_price', '9.5', 'A constant or a formula that every formula of the workbook may use by its name.'],
} as const

/** Asks for a name and a formula, and says what comes of it before it is kept. */
export function DefineDialog({ first, onClose }: { first: Defined; onClose: () => void }) {
  const book = useDeskBook()
  const [name, setName] = useState(first.name)
  const [formula, setFormula] = useState(first.formula)
  const [note, setNote] = useState(first.note ?? '')
  const [given, setGiven] = useState((first.parameters ?? []).join(', '))
  const { kind, table } = first
  const [nameHint, formulaHint, words] = HINTS[kind]
  const isNew = first.name === ''
  const ownNote = note.trim() === '' ? {} : { note: note.trim() }
  const made: Operation =
    kind === 'function'
      ? { op: 'set-function', name: first.name || name.trim(), parameters: parametersOf(given), formula, ...ownNote }
      : { op: 'set-value', name: isNew ? 'value_tried' : first.name, formula }
  const { text, fault } = useOutcome(kind, table, formula, made)
  const isReady = name.trim() !== '' && formula.trim() !== '' && fault === null
  const keep = async (): Promise<void> => {
    if (!isReady) return
    const own = { name: name.trim() }
    const operations: Record<Defined['kind'], Operation> = {
      tally: { op: 'set-tally', table, ...own, formula },
      rule: { op: 'set-rule', table, ...own, condition: formula, ...ownNote },
      value: { op: 'set-value', ...own, formula },
      function: made,
    }
    const isRenamed = kind === 'function' && !isNew && own.name !== first.name
    const renaming: Operation[] = isRenamed ? [{ op: 'rename-function', name: first.name, to: own.name }] : []
    if (await book.apply([operations[kind], ...renaming], `${TITLES[kind].toLowerCase()} ${own.name} kept`)) onClose()
  }
  const remove = async (): Promise<void> => {
    const op = kind === 'function' ? 'remove-function' : 'remove-value'
    if (await book.apply({ op, name: first.name }, `${TITLES[kind].toLowerCase()} ${first.name} removed`)) onClose()
  }
  return (
    <FormDialog
      title={`${isNew ? `New ${TITLES[kind].toLowerCase()}` : `${TITLES[kind]} ${first.name}`}${table === '' ? '' : ` of ${table}`}`}
      keep="Keep it"
      isReady={isReady}
      onKeep={() => void keep()}
      onRemove={!isNew && table === '' ? () => void remove() : undefined}
      onClose={onClose}
    >
      <label className="field">
        <span>name</span>
        <input
          value={name}
          disabled={!isNew && kind !== 'function'}
          onChange={(event) => setName(event.target.value)}
          placeholder={nameHint}
        />
      </label>
      {kind === 'function' && (
        <label className="field">
          <span>is given</span>
          <input value={given} onChange={(event) => setGiven(event.target.value)} placeholder="part, whole" />
        </label>
      )}
      <label className="field tall">
        <span>{kind === 'rule' ? 'condition' : 'formula'}</span>
        <textarea rows={3} value={formula} onChange={(event) => setFormula(event.target.value)} placeholder={formulaHint} />
      </label>
      {(kind === 'rule' || kind === 'function') && (
        <label className="field">
          <span>note</span>
          <input
            value={note}
            onChange={(event) => setNote(event.target.value)}
            placeholder={kind === 'rule' ? 'what to do about it' : 'what it is for'}
          />
        </label>
      )}
      <p className="soft">{words}</p>
      {fault !== null && <p className="card error">{fault}</p>}
      {fault === null && text !== '' && <p role="status">{text}</p>}
    </FormDialog>
  )
}

/** What a function is given, as the list was written; a comma may stand in backticks. */
function parametersOf(text: string): string[] {
  return (text.match(/(?:`[^`]*`|[^,`])+/g) ?? []).map((one) => one.trim()).filter((one) => one !== '')
}

/** What comes of a definition as it stands, in words, or what is wrong with it. */
function useOutcome(
  kind: Defined['kind'],
  table: string,
  formula: string,
  made: Operation,
): { readonly text: string; readonly fault: string | null } {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const isAsked = formula.trim() !== '' && (made.op !== 'set-function' || made.name !== '')
  const key = isAsked ? JSON.stringify([kind, table, formula, made, revision]) : null
  const { answer, fault } = useAnswer(key, async () => {
    if (kind === 'rule') {
      const broken = await session.query({ table, where: `not (${formula})`, columns: [], limit: 1 })
      return broken.matched === 0 ? 'True of every row.' : `Not true of ${countedOf(broken.matched, 'row')}.`
    }
    if (kind === 'tally') return `Now: ${valueText(await wholeOf(formula))}`
    const { change } = await session.preview(made)
    const cells = change.recalculated.map(({ table: of, column, rows }) => `${countedOf(rows, 'cell')} of ${of}.${column}`)
    return cells.length === 0 || kind === 'value' ? '' : `It calculates ${cells.join(', ')} anew.`
  })
  return { text: answer ?? '', fault }

  async function wholeOf(tally: string): Promise<SessionValue | undefined> {
    const report = await session.report({ table, tallies: [{ name: 'value', formula: tally }] })
    const at = report.columns.findIndex(({ name }) => name === 'value')
    return report.lines.find((line) => line.kind === 'whole')?.values[at]
  }
}

const valueText = (value: SessionValue | undefined): string => (value === null || value === undefined ? 'blank' : fullText(value))
