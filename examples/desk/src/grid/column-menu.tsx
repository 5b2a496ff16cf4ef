import { Menu, MenuButton, MenuButtonArrow, MenuItem, MenuProvider, MenuSeparator } from '@ariakit/react'
import type { ColumnFacts } from '@mellow-abacus/session'
import { MenuChoice } from '../look/menu-choice'
import { nextBlank, nextError, type Sought } from './travel'

/** What can be done with a column, by its heading. */
export interface ColumnActions {
  sort(descending: boolean, isFurther: boolean): void
  unsort(): void
  /** Has rows with the same value stand together, or no more. */
  group(): void
  go(to: Sought): void
  /** Has it stay in sight, or no more. */
  keep(): void
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
  isGrouped,
  isKept,
  mayDefine,
  actions,
  onClose,
}: {
  column: ColumnFacts
  anchor: HTMLElement
  isSorted: boolean
  /** True where rows are in groups by it. */
  isGrouped: boolean
  /** True where it stays in sight by choice; null where it does anyway. */
  isKept: boolean | null
  mayDefine: boolean
  actions: ColumnActions
  onClose: () => void
}) {
  const item = (label: string, act: () => void, keys?: string) => (
    <MenuChoice label={label} onChoose={act} {...(keys !== undefined && { keys })} />
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
        {item(isGrouped ? 'In no groups' : 'In groups by this', actions.group)}
        {item('Show some rows only…', actions.filter)}
        <MenuProvider>
          <MenuButton render={<MenuItem className="menu-item" hideOnClick={false} />}>
            Go to
            <MenuButtonArrow />
          </MenuButton>
          <Menu className="menu" gutter={4} portal aria-label={`Go to a value of ${column.name}`}>
            {item('Smallest', () => actions.go({ end: 'smallest' }))}
            {item('Largest', () => actions.go({ end: 'largest' }))}
            {item('Next blank', () => actions.go(nextBlank(column.name)))}
            {item('Next error', () => actions.go(nextError(column.name)))}
          </Menu>
        </MenuProvider>
        {isKept !== null && item(isKept ? 'Let it scroll away' : 'Keep it in sight', actions.keep)}
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
            <MenuChoice label={`Remove ${column.name}`} isDanger onChoose={actions.remove} />
          </>
        )}
      </Menu>
    </MenuProvider>
  )
}
