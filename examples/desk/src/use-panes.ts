import type { TableFacts } from '@mellow-abacus/session'
import { useCallback, useMemo, useState } from 'react'
import { type LookedAt, PLAIN_LOOK, type TableLook } from './grid/grid-calls'
import type { Travel } from './grid/travel'

/** A table that is looked at: how, and which cell of it. */
export interface Pane {
  readonly table: TableFacts
  readonly look: TableLook
  readonly at: LookedAt
  /** Where it is to go, each time it is another object; null for nowhere. */
  readonly travel: Travel | null
  setLook(look: TableLook): void
  setAt(at: LookedAt | ((before: LookedAt) => LookedAt)): void
  go(to: Travel): void
}

/** Rows of a table that are shown beside another one, and what they are. */
export interface RowsBeside {
  readonly table: string
  readonly where: string
  readonly title: string
}

/** The table that is shown, the rows beside it, and which of both is worked in. */
export interface Panes {
  readonly main: Pane | undefined
  readonly beside: (Pane & { readonly title: string }) | undefined
  /** The one that the slip and the commands are about. */
  readonly active: Pane | undefined
  workIn(pane: 'main' | 'beside'): void
  openBeside(rows: RowsBeside): void
  closeBeside(): void
  /** How a table is to be looked at when it is shown. */
  setLookOf(table: string, look: TableLook): void
  /** Goes to a cell of the table that is shown; null to stay where one is. */
  travel(to: Travel | null): void
}

/** At no cell. */
export const NOWHERE: LookedAt = { column: null, row: null, place: 0 }

/** @param shown - the table that is shown; undefined where something else is */
export function usePanes(tables: readonly TableFacts[], shown: TableFacts | undefined): Panes {
  const [looks, setLooks] = useState<Readonly<Record<string, TableLook>>>({})
  const [at, setAt] = useState<LookedAt>(NOWHERE)
  const [travel, setTravel] = useState<Travel | null>(null)
  const [opened, setOpened] = useState<RowsBeside | null>(null)
  const [besideLook, setBesideLook] = useState<TableLook>(PLAIN_LOOK)
  const [besideAt, setBesideAt] = useState<LookedAt>(NOWHERE)
  const [besideTravel, setBesideTravel] = useState<Travel | null>(null)
  const [working, workIn] = useState<'main' | 'beside'>('main')
  const setLookOf = useCallback((of: string, look: TableLook) => setLooks((before) => ({ ...before, [of]: look })), [])
  const openBeside = useCallback((rows: RowsBeside) => {
    setOpened(rows)
    setBesideLook({ ...PLAIN_LOOK, where: rows.where })
    setBesideAt(NOWHERE)
    setBesideTravel(null)
  }, [])
  const closeBeside = useCallback(() => {
    setOpened(null)
    workIn('main')
  }, [])
  const look = (shown !== undefined && looks[shown.name]) || PLAIN_LOOK
  const main = useMemo(
    (): Pane | undefined =>
      shown && {
        ...{ table: shown, look, at, setAt, go: setTravel },
        travel: travel?.table === shown.name ? travel : null,
        setLook: (next) => setLookOf(shown.name, next),
      },
    [shown, look, at, travel, setLookOf],
  )
  const besideTable = shown && opened ? tables.find(({ name }) => name === opened.table) : undefined
  const title = opened?.title ?? ''
  const beside = useMemo(
    () =>
      besideTable && {
        ...{ table: besideTable, title, look: besideLook, at: besideAt, travel: besideTravel },
        ...{ setLook: setBesideLook, setAt: setBesideAt, go: setBesideTravel },
      },
    [besideTable, title, besideLook, besideAt, besideTravel],
  )
  const active = working === 'beside' && beside !== undefined ? beside : main
  return { main, beside, active, workIn, openBeside, closeBeside, setLookOf, travel: setTravel }
}
