import { Menu, MenuProvider, MenuSeparator } from '@ariakit/react'
import { countedOf } from '../look/cell-text'
import { MenuChoice } from '../look/menu-choice'

/** What can be done with the rows that are picked. */
export interface RowWork {
  insert(isAbove: boolean): void
  move(isUp: boolean): void
  remove(): void
  form(): void
  why(): void
}

/** The menu of the rows that are picked. */
export function RowMenu({
  at,
  count,
  mayEnter,
  work,
  onClose,
}: {
  /** Where it opens, in pixels of the page. */
  at: { readonly x: number; readonly y: number }
  /** How many rows are picked. */
  count: number
  mayEnter: boolean
  work: RowWork
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
        {mayEnter && (
          <>
            <MenuSeparator className="menu-rule" />
            <MenuChoice label="Put a row in above" onChoose={() => work.insert(true)} />
            <MenuChoice label="Put a row in below" onChoose={() => work.insert(false)} />
            <MenuChoice label="Move up" keys="Alt Shift ↑" onChoose={() => work.move(true)} />
            <MenuChoice label="Move down" keys="Alt Shift ↓" onChoose={() => work.move(false)} />
            <MenuSeparator className="menu-rule" />
            <MenuChoice label={`Remove ${count === 1 ? 'the row' : countedOf(count, 'row')}`} isDanger onChoose={work.remove} />
          </>
        )}
      </Menu>
    </MenuProvider>
  )
}
