import { Menu, MenuProvider, MenuSeparator } from '@ariakit/react'
import { countedOf } from '../look/cell-text'
import { MenuChoice } from '../look/menu-choice'
import type { Folding } from './folding'

/** What can be done with the rows that are picked. */
export interface RowWork {
  insert(isAbove: boolean): void
  move(isUp: boolean): void
  remove(): void
  /** Puts the row below the one above it, or out of the row it is below; there in an outline. */
  putBelow?(isFurtherIn: boolean): void
  form(): void
  why(): void
}

/** The menu of the rows that are picked. */
export function RowMenu({
  at,
  count,
  mayEnter,
  work,
  folding,
  onClose,
}: {
  /** Where it opens, in pixels of the page. */
  at: { readonly x: number; readonly y: number }
  /** How many rows are picked. */
  count: number
  mayEnter: boolean
  work: RowWork
  folding: Folding
  onClose: () => void
}) {
  return (
    <MenuProvider open setOpen={(open) => open || onClose()}>
      <Menu
        className="menu"
        getAnchorRect={() => ({ x: at.x, y: at.y, width: 0, height: 0 })}
        gutter={4}
        portal
        modal
        autoFocusOnShow
        aria-label={count === 1 ? 'Row' : countedOf(count, 'row')}
      >
        <MenuChoice label="Why this value" onChoose={work.why} />
        <MenuChoice label={mayEnter ? 'Fill in as a form' : 'Show as a form'} onChoose={work.form} />
        {folding.isThere && (
          <>
            <MenuSeparator className="menu-rule" />
            {folding.isFolded ? (
              <MenuChoice label="Unfold" keys="Alt →" onChoose={() => folding.here(true)} />
            ) : (
              <MenuChoice label="Fold" keys="Alt ←" onChoose={() => folding.here(false)} />
            )}
            <MenuChoice label="Fold all" onChoose={() => folding.all(false)} />
            <MenuChoice label="Unfold all" onChoose={() => folding.all(true)} />
          </>
        )}
        {mayEnter && (
          <>
            <MenuSeparator className="menu-rule" />
            <MenuChoice label="Put a row in above" onChoose={() => work.insert(true)} />
            <MenuChoice label="Put a row in below" onChoose={() => work.insert(false)} />
            <MenuChoice label="Move up" keys="Alt Shift ↑" onChoose={() => work.move(true)} />
            <MenuChoice label="Move down" keys="Alt Shift ↓" onChoose={() => work.move(false)} />
            {work.putBelow !== undefined && (
              <>
                <MenuChoice label="Put below the row above" keys="Alt Shift →" onChoose={() => work.putBelow?.(true)} />
                <MenuChoice label="Put out of the row it is below" keys="Alt Shift ←" onChoose={() => work.putBelow?.(false)} />
              </>
            )}
            <MenuSeparator className="menu-rule" />
            <MenuChoice label={`Remove ${count === 1 ? 'the row' : countedOf(count, 'row')}`} isDanger onChoose={work.remove} />
          </>
        )}
      </Menu>
    </MenuProvider>
  )
}
