import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import type { ValueType } from 'mellow-abacus'
import { useState } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import { linkColumns } from '../grid/link-string'
import { countedOf } from '../look/cell-text'
import { Field, listOf } from './field'
import { ProfilePart } from './profile-part'
import { Reads } from './reads'
import type { SlipCalls } from './slip-calls'
import { StampPart } from './stamp-part'
import { TablePart } from './table-part'

const TYPES: readonly ValueType[] = ['number', 'integer', 'text', 'boolean', 'date', 'datetime']
/** Displays that are offered; any other pattern can be typed. */
const DISPLAYS = ['#,##0', '#,##0.00', 'percent', 'currency:EUR', 'd MMM yyyy', 'yyyy-MM']

/** What is said of a column, to be changed field by field; each change is a step. */
export function ColumnTab({
  table,
  column,
  isRenaming,
  calls,
}: {
  table: TableFacts
  column: ColumnFacts | undefined
  isRenaming: boolean
  calls: SlipCalls
}) {
  const book = useDeskBook()
  const { facts } = useBookState()
  if (column === undefined) return <p className="soft">Pick a column to see what is said of it.</p>
  const mayDefine = book.may.define
  const of = { table: table.name, column: column.name }
  const properties = column.properties as Readonly<Record<string, unknown>>
  const set = (key: string, value: unknown): void =>
    void book.apply({ op: 'change-column', ...of, set: { [key]: value } }, `${column.name}: ${key} set`)
  const text = (key: string): string => {
    const value = properties[key]
    return Array.isArray(value) ? value.join(', ') : value === undefined ? '' : String(value)
  }
  const rename = async (to: string): Promise<void> => {
    if (to === column.name || to.trim() === '') return
    if (await book.apply({ op: 'rename-column', ...of, to: to.trim() }, `${column.name} is ${to.trim()} now`))
      calls.travel({ table: table.name, column: to.trim() })
  }
  const hidden = table.columns.filter(({ properties: own }) => own.hidden === true)
  return (
    <>
      <Field label="name" value={column.name} isFirst={isRenaming} isFixed={!mayDefine} onKeep={(to) => void rename(to)} />
      <label className="field">
        <span>type</span>
        <select
          value={column.type ?? ''}
          disabled={!mayDefine || column.calculated}
          onChange={(event) => set('type', event.target.value)}
        >
          {column.type === null && <option value="">no type yet</option>}
          {TYPES.map((type) => (
            <option key={type}>{type}</option>
          ))}
        </select>
      </label>
      <Field label="heading" value={text('heading')} isFixed={!mayDefine} onKeep={(value) => set('heading', value || null)} />
      <Field
        label="unit"
        value={text('unit')}
        hint={column.unit === null ? undefined : `${column.unit}, by its formula`}
        isFixed={!mayDefine}
        onKeep={(value) => set('unit', value || null)}
      />
      <Field
        label="shown as"
        value={text('display')}
        offers={DISPLAYS}
        isFixed={!mayDefine}
        onKeep={(value) => set('display', value || null)}
      />
      <Field
        label="decimals"
        value={text('decimals')}
        isFixed={!mayDefine}
        onKeep={(value) => set('decimals', value.trim() === '' ? null : Number(value))}
      />
      <Field
        label="choices"
        value={text('choices')}
        isFixed={!mayDefine || column.calculated}
        onKeep={(value) => set('choices', listOf(value))}
      />
      <Field
        label="order key"
        value={text('orderKey')}
        offers={table.columns.map(({ name }) => name)}
        isFixed={!mayDefine}
        onKeep={(value) => set('orderKey', value || null)}
      />
      <Field label="tags" value={text('tags')} isFixed={!mayDefine} onKeep={(value) => set('tags', listOf(value))} />
      <Field label="note" value={text('note')} isFixed={!mayDefine} onKeep={(value) => set('note', value || null)} />
      <ProfilePart table={table} column={column} calls={calls} />
      <Reads table={table} column={column.name} calls={calls} />
      {mayDefine && !column.calculated && <LinkPart table={table} column={column} tables={facts.tables} />}
      {mayDefine && !column.calculated && <StampPart table={table} column={column} />}
      {mayDefine && <TablePart table={table} calls={calls} />}
      {hidden.length > 0 && (
        <div>
          <small className="soft">{countedOf(hidden.length, 'hidden column')}</small>
          <div className="row">
            {hidden.map(({ name }) => (
              <button
                type="button"
                key={name}
                className="chip"
                disabled={!mayDefine}
                onClick={() =>
                  void book.apply(
                    { op: 'change-column', table: table.name, column: name, set: { hidden: null } },
                    `${name} shown again`,
                  )
                }
              >
                show {name}
              </button>
            ))}
          </div>
        </div>
      )}
    </>
  )
}

/** Links that begin at a column, and where a new one may lead. */
function LinkPart({ table, column, tables }: { table: TableFacts; column: ColumnFacts; tables: readonly TableFacts[] }) {
  const book = useDeskBook()
  const [target, setTarget] = useState('')
  const own = table.links.filter(({ columns }) => columns[0] === column.name)
  const targets = tables.flatMap((other) =>
    other.columns
      // A row may lead to another one of its own table, but not by the same column.
      .filter(({ name, type }) => type === column.type && !(other.name === table.name && name === column.name))
      .map(({ name }) => [other.name, name] as const),
  )
  return (
    <div>
      <small className="soft">links</small>
      {own.map(({ name, to, keys }) => (
        <div className="row" key={name}>
          <span>
            {name} leads to {to}.{keys.join(', ')}
          </span>
          <button
            type="button"
            className="un"
            onClick={() => void book.apply({ op: 'remove-link', table: table.name, name }, `link ${name} removed`)}
          >
            Remove link
          </button>
        </div>
      ))}
      <div className="row">
        <select aria-label="leads to" value={target} onChange={(event) => setTarget(event.target.value)}>
          <option value="">leads to…</option>
          {targets.map(([of, name]) => (
            <option key={`${of}.${name}`} value={JSON.stringify([of, name])}>
              {of}.{name}
            </option>
          ))}
        </select>
        <button
          type="button"
          disabled={target === ''}
          onClick={() => {
            const [to, key] = JSON.parse(target) as [string, string]
            setTarget('')
            void linkColumns(book, table.name, column.name, { table: to, column: key })
          }}
        >
          Link
        </button>
      </div>
    </div>
  )
}
