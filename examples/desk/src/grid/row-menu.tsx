import { Menu, MenuItem, MenuProvider, MenuSeparator } from '@ariakit/react'
import { afterwards } from '../look/afterwards'
import { countedOf } from '../look/cell-text'

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
  const item = (label: string, act: () => void, key?: string) => (
    <MenuItem className="menu-item" onClick={() => afterwards(act)}>
      {label}
      {key !== undefined && <kbd>{key}</kbd>}
    </MenuItem>
  )
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
        {item('Why this value', work.why)}
        {item(mayEnter ? 'Fill in as a form' : 'Show as a form', work.form)}
        {mayEnter && (
          <>
            <MenuSeparator className="menu-rule" />
            {item('Put a row in above', () => work.insert(true))}
            {item('Put a row in below', () => work.insert(false))}
            {item('Move up', () => work.move(true), 'Alt Shift ↑')}
            {item('Move down', () => work.move(false), 'Alt Shift ↓')}
            <MenuSeparator className="menu-rule" />
            <MenuItem className="menu-item danger" onClick={() => afterwards(work.remove)}>
              Remove {count === 1 ? 'the row' : countedOf(count, 'row')}
            </MenuItem>
          </>
        )}
      </Menu>
    </MenuProvider>
  )
}
