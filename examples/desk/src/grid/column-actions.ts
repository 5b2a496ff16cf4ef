import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import type { DeskBook } from '../book/desk-book'
import type { ColumnActions } from './column-menu'
import type { GridCalls, TableLook } from './grid-calls'
import type { Sought } from './travel'

/** What the menu of a heading does. */
export function columnActions(
  column: ColumnFacts,
  {
    book,
    table,
    look,
    calls,
    go,
    keep,
  }: {
    readonly book: DeskBook
    readonly table: TableFacts
    readonly look: TableLook
    readonly calls: GridCalls
    readonly go: (to: Sought) => void
    readonly keep: (column: string) => void
  },
): ColumnActions {
  const of = { table: table.name, column: column.name }
  const apply = (operation: object, done: string): void => void book.apply(operation as Operation, done)
  return {
    sort: (descending, isFurther) => {
      const others = isFurther ? look.sorts.filter((sort) => sort.column !== column.name) : []
      calls.look({ ...look, sorts: [...others, { column: column.name, descending }] })
    },
    unsort: () => calls.look({ ...look, sorts: [] }),
    group: () => {
      const isGrouped = look.group?.column === column.name
      calls.look({ ...look, group: isGrouped ? null : { column: column.name, folded: [] } })
    },
    go,
    keep: () => keep(column.name),
    filter: () => calls.filter(column.name),
    editFormula: () => calls.editFormula(column.name),
    addAfter: () => calls.addAfter(column.name),
    about: () => calls.about(column.name, false),
    rename: () => calls.about(column.name, true),
    hide: () => apply({ op: 'change-column', ...of, set: { hidden: true } }, `${column.name} hidden`),
    move: (by) => {
      const order = table.columns.map(({ name }) => name)
      const own = order.indexOf(column.name)
      if (own + by < 0 || own + by >= order.length) return
      const before = order[by < 0 ? own - 1 : own + 2]
      apply({ op: 'move-column', ...of, ...(before !== undefined && { before }) }, `${column.name} moved`)
    },
    pause: () => {
      const isPaused = column.state === 'paused'
      const done = isPaused ? `${column.name} calculates again` : `${column.name} paused: its values can be typed over`
      apply({ op: isPaused ? 'resume-column' : 'pause-column', ...of }, done)
    },
    detach: () => apply({ op: 'detach-column', ...of }, `${column.name} keeps its values, without a formula`),
    remove: () => apply({ op: 'remove-column', ...of }, `${column.name} removed`),
  }
}
