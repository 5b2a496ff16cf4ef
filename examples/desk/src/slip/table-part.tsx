import type { TableFacts } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { useDeskBook } from '../book/use-book'
import { fullText } from '../look/cell-text'
import { Field, listOf } from './field'
import type { SlipCalls } from './slip-calls'

/** What is defined over the whole table: its tallies and rules, each to be changed or removed. */
export function TablePart({ table, calls }: { table: TableFacts; calls: SlipCalls }) {
  const book = useDeskBook()
  const { name: of, tallies, rules, label, key, parent } = table
  const columns = table.columns.map(({ name }) => name)
  const set = (what: 'label' | 'key' | 'parent', value: string | readonly string[] | null): void =>
    void book.apply({ op: 'change-table', table: of, set: { [what]: value } } as Operation, `${of}: ${what} set`)
  const remove = (kind: 'tally' | 'rule', name: string): void =>
    void book.apply({ op: `remove-${kind}`, table: of, name }, `${kind} ${name} removed`)
  return (
    <section aria-label={`Over all of ${of}`} className="table-part">
      <small className="soft">about the rows of {of}</small>
      <ColumnChoice label="named by" columns={columns} value={label} onChoose={(name) => set('label', name)} />
      <Field
        label="found by"
        value={(key ?? []).join(', ')}
        offers={columns}
        isFixed={false}
        onKeep={(value) => set('key', listOf(value))}
      />
      <ColumnChoice label="stand below" columns={columns} value={parent} onChoose={(name) => set('parent', name)} />
      <small className="soft">over all rows of {of}</small>
      {tallies.map(({ name, formula, value }) => (
        <Line
          key={name}
          name={name}
          text={formula ?? ''}
          value={value === null ? 'blank' : fullText(value)}
          onEdit={() => calls.define({ kind: 'tally', table: of, name, formula: formula ?? '' })}
          onRemove={() => remove('tally', name)}
        />
      ))}
      {rules.map(({ name, condition, note }) => (
        <Line
          key={name}
          name={name}
          text={condition}
          value="rule"
          onEdit={() => calls.define({ kind: 'rule', table: of, name, formula: condition, ...(note !== undefined && { note }) })}
          onRemove={() => remove('rule', name)}
        />
      ))}
      <div className="row">
        <button type="button" onClick={() => calls.define({ kind: 'tally', table: of, name: '', formula: '' })}>
          New tally
        </button>
        <button type="button" onClick={() => calls.define({ kind: 'rule', table: of, name: '', formula: '' })}>
          New rule
        </button>
      </div>
    </section>
  )
}

/** A column of the table, or none. */
function ColumnChoice({
  label,
  columns,
  value,
  onChoose,
}: {
  label: string
  columns: readonly string[]
  value: string | null
  onChoose: (name: string | null) => void
}) {
  return (
    <label className="field">
      <span>{label}</span>
      <select value={value ?? ''} onChange={(event) => onChoose(event.target.value === '' ? null : event.target.value)}>
        <option value="">no column</option>
        {columns.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </label>
  )
}

function Line({
  name,
  text,
  value,
  onEdit,
  onRemove,
}: {
  name: string
  text: string
  value: string
  onEdit: () => void
  onRemove: () => void
}) {
  return (
    <div className="row defined">
      <button type="button" className="chip" onClick={onEdit} title={text}>
        {name} <small>{value}</small>
      </button>
      <button type="button" className="icon-button" aria-label={`Remove ${name}`} onClick={onRemove}>
        ×
      </button>
    </div>
  )
}
