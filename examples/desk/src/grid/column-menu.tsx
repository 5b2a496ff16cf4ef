import { Menu, MenuItem, MenuProvider, MenuSeparator } from '@ariakit/react'
import type { ColumnFacts } from '@mellow-abacus/session'
import { afterwards } from '../look/afterwards'

/** What can be done with a column, by its heading. */
export interface ColumnActions {
  sort(descending: boolean, isFurther: boolean): void
  unsort(): void
  filter(): void
  editFormula(): void
  addAfter(): void
  about(): void
  rename(): void
  hide(): void
  move(by: -1 | 1): void
  pause(): void
  detach(): void
  remove(): void
}

/** The menu of a heading. */
export function ColumnMenu({
  column,
  anchor,
  isSorted,
  mayDefine,
  actions,
  onClose,
}: {
  column: ColumnFacts
  anchor: HTMLElement
  isSorted: boolean
  mayDefine: boolean
  actions: ColumnActions
  onClose: () => void
}) {
  const item = (label: string, act: () => void, key?: string) => (
    <MenuItem className="menu-item" onClick={() => afterwards(act)}>
      {label}
      {key !== undefined && <kbd>{key}</kbd>}
    </MenuItem>
  )
  const isPaused = column.state === 'paused'
  return (
    <MenuProvider open setOpen={(open) => open || onClose()}>
      <Menu
        className="menu"
        getAnchorRect={() => anchor.getBoundingClientRect()}
        gutter={4}
        portal
        modal
        autoFocusOnShow
        aria-label={`Column ${column.name}`}
      >
        {item('Smallest first', () => actions.sort(false, false), 'Alt ↑')}
        {item('Largest first', () => actions.sort(true, false), 'Alt ↓')}
        {isSorted && item('As rows stand', actions.unsort)}
        {item('Then by this, largest first', () => actions.sort(true, true))}
        {item('Show some rows only…', actions.filter)}
        <MenuSeparator className="menu-rule" />
        {column.formula !== null && item(mayDefine ? 'Edit formula' : 'Show formula', actions.editFormula)}
        {mayDefine && item('New calculated column after it', actions.addAfter)}
        {item('About this column', actions.about)}
        {mayDefine && (
          <>
            <MenuSeparator className="menu-rule" />
            {item('Rename', actions.rename)}
            {item('Move left', () => actions.move(-1))}
            {item('Move right', () => actions.move(1))}
            {item('Hide', actions.hide)}
            {column.formula !== null && item(isPaused ? 'Calculate again' : 'Pause: type over its values', actions.pause)}
            {column.formula !== null && item('Keep values, drop the formula', actions.detach)}
            <MenuSeparator className="menu-rule" />
            <MenuItem className="menu-item danger" onClick={() => afterwards(actions.remove)}>
              Remove {column.name}
            </MenuItem>
          </>
        )}
      </Menu>
    </MenuProvider>
  )
}
