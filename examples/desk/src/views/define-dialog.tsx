import type { SessionValue } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { countedOf, fullText } from '../look/cell-text'
import { FormDialog } from './form-dialog'

/** What is defined beside columns: a tally or a rule of a table, or a named value of the workbook. */
export interface Defined {
  readonly kind: 'tally' | 'rule' | 'value'
  /** The table of a tally or a rule. */
  readonly table: string
  readonly name: string
  /** The condition of a rule. */
  readonly formula: string
  readonly note?: string
}

const TITLES = { tally: 'Tally', rule: 'Rule', value: 'Named value' } as const
const HINTS = {
  tally: ['total_kg', 'sum(honey_kg)', 'One value over all rows of the table; it stands in totals, reports and formulas.'],
  rule: [
    'counted',
    'mites <= bees_sampled',
    'What is to be true of every row. Rows where it is not are findings, at every edit.',
  ],
  value: ['honey_price', '9.5', 'A constant or a formula that every formula of the workbook may use by its name.'],
} as const

/** Asks for a name and a formula, and says what comes of it before it is kept. */
export function DefineDialog({ first, onClose }: { first: Defined; onClose: () => void }) {
  const book = useDeskBook()
  const [name, setName] = useState(first.name)
  const [formula, setFormula] = useState(first.formula)
  const [note, setNote] = useState(first.note ?? '')
  const { kind, table } = first
  const [nameHint, formulaHint, words] = HINTS[kind]
  const isNew = first.name === ''
  const { text, fault } = useOutcome(kind, table, formula)
  const isReady = name.trim() !== '' && formula.trim() !== '' && fault === null
  const keep = async (): Promise<void> => {
    if (!isReady) return
    const own = { name: name.trim() }
    const operations: Record<Defined['kind'], Operation> = {
      tally: { op: 'set-tally', table, ...own, formula },
      rule: { op: 'set-rule', table, ...own, condition: formula, ...(note.trim() !== '' && { note: note.trim() }) },
      value: { op: 'set-value', ...own, formula },
    }
    if (await book.apply(operations[kind], `${TITLES[kind].toLowerCase()} ${own.name} kept`)) onClose()
  }
  return (
    <FormDialog
      title={`${isNew ? `New ${TITLES[kind].toLowerCase()}` : `${TITLES[kind]} ${first.name}`}${kind === 'value' ? '' : ` of ${table}`}`}
      keep="Keep it"
      isReady={isReady}
      onKeep={() => void keep()}
      onClose={onClose}
    >
      <label className="field">
        <span>name</span>
        <input value={name} disabled={!isNew} onChange={(event) => setName(event.target.value)} placeholder={nameHint} />
      </label>
      <label className="field tall">
        <span>{kind === 'rule' ? 'condition' : 'formula'}</span>
        <textarea rows={3} value={formula} onChange={(event) => setFormula(event.target.value)} placeholder={formulaHint} />
      </label>
      {kind === 'rule' && (
        <label className="field">
          <span>note</span>
          <input value={note} onChange={(event) => setNote(event.target.value)} placeholder="what to do about it" />
        </label>
      )}
      <p className="soft">{words}</p>
      {fault !== null && <p className="card error">{fault}</p>}
      {fault === null && text !== '' && <p role="status">{text}</p>}
    </FormDialog>
  )
}

/** What comes of a definition as it stands, in words, or what is wrong with it. */
function useOutcome(
  kind: Defined['kind'],
  table: string,
  formula: string,
): { readonly text: string; readonly fault: string | null } {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const key = formula.trim() === '' ? null : JSON.stringify([kind, table, formula, revision])
  const { answer, fault } = useAnswer(key, async () => {
    if (kind === 'rule') {
      const broken = await session.query({ table, where: `not (${formula})`, columns: [], limit: 1 })
      return broken.matched === 0 ? 'True of every row.' : `Not true of ${countedOf(broken.matched, 'row')}.`
    }
    if (kind === 'tally') return `Now: ${valueText(await wholeOf(formula))}`
    await session.preview({ op: 'set-value', name: 'value_tried', formula })
    return ''
  })
  return { text: answer ?? '', fault }

  async function wholeOf(tally: string): Promise<SessionValue | undefined> {
    const report = await session.report({ table, tallies: [{ name: 'value', formula: tally }] })
    const at = report.columns.findIndex(({ name }) => name === 'value')
    return report.lines.find((line) => line.kind === 'whole')?.values[at]
  }
}

const valueText = (value: SessionValue | undefined): string => (value === null || value === undefined ? 'blank' : fullText(value))
