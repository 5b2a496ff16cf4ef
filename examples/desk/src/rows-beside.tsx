import { useEffect } from 'react'
import { useIsDrafting } from './formula/use-draft'
import { Grid } from './grid/grid'
import type { GridCalls } from './grid/grid-calls'
import type { Pane } from './use-panes'

/** Rows of a table below those of the one that is shown: to look at both. */
export function RowsBeside({
  pane,
  calls,
  onWork,
  onAlone,
  onClose,
}: {
  pane: Pane & { readonly title: string }
  calls: GridCalls
  /** Says that these rows are worked in. */
  onWork: () => void
  /** Shows them in place of the others. */
  onAlone: () => void
  onClose: () => void
}) {
  const { table, look, travel, title } = pane
  // A draft wants the room that a table has which is shown alone.
  const isDrafting = useIsDrafting(table.name)
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is what happens when a draft begins.
  useEffect(() => {
    if (isDrafting) onAlone()
  }, [isDrafting])
  return (
    <section className="beside" aria-label={`${title}, beside`} onFocus={onWork}>
      <header>
        <h2>{title}</h2>
        <button type="button" className="quiet-button" onClick={onAlone}>
          Show alone
        </button>
        <button type="button" className="icon-button" aria-label="Close the rows beside" onClick={onClose}>
          ×
        </button>
      </header>
      <Grid
        key={`${table.name} ${title}`}
        {...{ table, look, travel, calls }}
        isBeside
        picked={null}
        reach={1}
        isDrafting={false}
        ghost={null}
      />
    </section>
  )
}
